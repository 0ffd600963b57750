/**
 * Writings of the Skerrow Point Tide and Fog Survey, made from seeds: none of it was ever
 * anybody's.
 */
import { seededRandom, type Random } from '@/core/bits/random';

const STATIONS = [
  'NORTH MOLE',
  'SKERROW LIGHT',
  'FERRY STAIRS',
  'HOLM BELL',
  'CALF SOUND',
  'WESTER SKER',
];
const WINDS = ['N', 'NNE', 'NE', 'E', 'SE', 'S', 'SW', 'WSW', 'W', 'NW'];
const REMARKS = [
  'horn sounded 40 min',
  'bell silent, ice',
  'visibility 2 cables',
  'keeper relieved 0600',
  'swell on the bar',
  'lamp trimmed',
  'boat could not land',
  'fog lifted at noon',
];

const lines = (rows: readonly string[]) => new TextEncoder().encode(`${rows.join('\r\n')}\r\n`);
const pick = <T>(random: Random, from: readonly T[]) => from[random.below(from.length)]!;
const pad = (value: number, width: number) => String(value).padStart(width, '0');

/** High and low waters of a year at one station. */
export function tideTable(year: number, station: number): Uint8Array {
  const random = seededRandom(`tide/${year}/${station}`);
  const rows = [
    'SKERROW POINT TIDE AND FOG SURVEY',
    `TIDE TABLE ${year}   ${STATIONS[station % STATIONS.length]}`,
    '',
    'DATE    HIGH   M     LOW    M',
    '------  ----- ----  ----- ----',
  ];
  for (let month = 1; month <= 12; month++) {
    for (let day = 1; day <= 28; day++) {
      const minute = (month * 1440 + day * 50 + station * 37) % 745;
      const high = 3.1 + 1.2 * Math.cos((day / 14.77) * Math.PI) + random.next() * 0.1;
      rows.push(
        `${pad(day, 2)}.${pad(month, 2)}   ` +
          `${pad(Math.floor(minute / 60), 2)}:${pad(minute % 60, 2)} ${high.toFixed(2)}  ` +
          `${pad(Math.floor(minute / 60) + 6, 2)}:${pad(minute % 60, 2)} ` +
          `${(high - 2.4).toFixed(2)}`,
      );
    }
  }
  return lines(rows);
}

export function fogLog(year: number, days: number): Uint8Array {
  const random = seededRandom(`fog/${year}`);
  const rows = [
    `FOG LOG ${year}`,
    'SKERROW POINT LIGHT',
    '',
    'DAY  WIND  HOURS  REMARK',
    '---  ----  -----  ------',
  ];
  for (let day = 1; day <= days; day++)
    rows.push(
      `${pad(day, 3)}  ${pick(random, WINDS).padEnd(4)}  ` +
        `${(random.next() * 14).toFixed(1).padStart(5)}  ${pick(random, REMARKS)}`,
    );
  return lines(rows);
}

export function buoyList(year: number): Uint8Array {
  const random = seededRandom(`buoy/${year}`);
  const names = [
    'GANNET',
    'HOLM BELL',
    'CALF',
    'WESTER SKER',
    'FERRY MARK',
    'NESS WHISTLE',
    'OUTER GROUND',
    'KILN SHOAL',
  ];
  return lines([
    'SKERROW POINT TIDE & FOG SURVEY',
    `BUOY LIST, SEASON ${year}`,
    '',
    'NO  NAME          LAT       LON',
    '--  ------------  --------  -------',
    ...names.map(
      (name, i) =>
        `${pad(i + 1, 2)}  ${name.padEnd(12)}  58.${pad(100 + random.below(70), 3)}N  ` +
        `3.${pad(300 + random.below(160), 3)}W`,
    ),
    '',
    'GANNET DRAGGED 40 YDS IN THE',
    'GALE OF 11 FEB. RESET 2 MAR.',
  ]);
}

export function harbourDues(year: number): Uint8Array {
  const random = seededRandom(`dues/${year}`);
  const boats = ['Margit', 'Two Brothers', 'Kittiwake', 'Ellen Rose', 'Sula', 'Provider'];
  return lines([
    'DATE;BOAT;TONS;DUES',
    ...Array.from(
      { length: 240 },
      (_, i) =>
        `${pad(1 + (i % 28), 2)}.${pad(1 + Math.floor(i / 20), 2)}.${year}` +
        `;${pick(random, boats)};${5 + random.below(60)};${(random.next() * 40).toFixed(2)}`,
    ),
  ]);
}

/** Records without text: samples of a tide gauge. */
export function gaugeRecords(seed: string, count: number): Uint8Array {
  const random = seededRandom(`gauge/${seed}`);
  const bytes = new Uint8Array(count * 96);
  for (let i = 0; i < bytes.length; i++)
    bytes[i] = Math.round(128 + 90 * Math.sin(i / 61) + random.normal() * 6);
  return bytes;
}
