/**
 * Hard disks and discs of the sample scenario: what is on them, and where they are bad, weak, slow
 * or scratched.
 */
import { seededRandom } from '@/core/bits/random';
import type { BlockForm } from '@/core/medium-form';
import { makeMode1, RAW_BYTES } from '@/core/optical/raw-sector';
import { buildHardDisk, type DemoFile } from './fat-builder';
import { buildIso } from './iso-builder';
import { buoyList, fogLog, gaugeRecords, harbourDues, tideTable } from './texts';

interface DemoDevice {
  code: string;
  form: BlockForm;
  title: string;
  labelText: string;
  lender: string;
  lot: string;
  condition: string;
  machine?: string;
  origin?: { jumpers: string; notes: string };
  /** As `src/standin/block-medium.ts` declares it, without the label and the image. */
  medium: object;
  seed: string;
  tellsWhere: boolean;
  faults: object;
  image: Uint8Array;
}

const DISC_BLOCK = 2048;

const logHouse: DemoFile[] = [
  {
    path: 'CONFIG.SYS',
    bytes: new TextEncoder().encode('FILES=20\r\nBUFFERS=10\r\n'),
    modified: '1990-02-01T08:00:00',
  },
  ...[1988, 1989, 1990, 1991, 1992].flatMap((year) => [
    { path: `LOGS/FOG${year}.TXT`, bytes: fogLog(year, 700), modified: `${year}-12-31T18:00:00` },
    { path: `DUES/D${year}.CSV`, bytes: harbourDues(year), modified: `${year}-12-30T16:00:00` },
  ]),
  ...[1, 2, 3, 4, 5, 6, 7, 8].map((n) => ({
    path: `GAUGE/G92${n}.DAT`,
    bytes: gaugeRecords(`92-${n}`, 700),
    modified: `1992-0${n}-28T17:00:00`,
  })),
  { path: 'LETTERS.OLD', bytes: harbourDues(1987), modified: '1988-03-02T10:00:00', deleted: true },
  ...[0, 1, 2, 3].map((station) => ({
    path: `TIDES/T93S${station}.TXT`,
    bytes: tideTable(1993, station),
    modified: '1993-01-08T09:00:00',
  })),
  { path: 'BUOYS.TXT', bytes: buoyList(1993), modified: '1993-02-01T09:00:00' },
];

/** What starts in place of the usual code: it shows a greeting first. Made up; it does nothing. */
function oddBoot(): Uint8Array {
  const code = new Uint8Array(0x1be).fill(0x90);
  code.set([0xfa, 0x33, 0xc0, 0x8e, 0xd0, 0xbc, 0x00, 0x7c]);
  code.set(new TextEncoder().encode('THE GULLS OF SKERROW ARE WATCHING. PRESS ANY KEY.'), 0x60);
  return code;
}

const GEOMETRY = { cylinders: 820, heads: 6, sectors: 17 };

/** A horn's note that swells and dies, as 16-bit frames of two channels. */
export function horn(sectors: number, hertz: number, seed: string): Uint8Array {
  const bytes = new Uint8Array(sectors * RAW_BYTES);
  const view = new DataView(bytes.buffer);
  const random = seededRandom(seed);
  const frames = bytes.length / 4;
  for (let i = 0; i < frames; i++) {
    const t = i / 44_100;
    const swell = Math.sin((Math.PI * i) / frames) ** 2;
    const tone =
      Math.sin(2 * Math.PI * hertz * t) +
      0.4 * Math.sin(2 * Math.PI * hertz * 2.01 * t) +
      0.05 * (random.next() - 0.5);
    const value = Math.round(9000 * swell * tone);
    view.setInt16(i * 4, value, true);
    view.setInt16(i * 4 + 2, Math.round(value * 0.8), true);
  }
  return bytes;
}

/** A disc of one track of data and two of sound, raw. */
function mixedDisc(): { image: Uint8Array; tracks: object[]; blocks: number } {
  const data = buildIso('SKERROW_SOUNDS', [
    {
      path: 'READ.ME',
      bytes: new TextEncoder().encode(
        'TRACK 1: THIS LIST. TRACKS 2 AND 3: THE NORTH AND THE SOUTH HORN.\r\n',
      ),
      modified: '1995-06-01T10:00:00',
    },
    ...[1990, 1991, 1992].map((year) => ({
      path: `LOGS/FOG${year}.TXT`,
      bytes: fogLog(year, 900),
      modified: '1995-06-01T10:05:00',
    })),
    { path: 'BUOYS.TXT', bytes: buoyList(1995), modified: '1995-06-01T10:06:00' },
  ]);
  // Behind the volume comes a gap of two seconds.
  const dataSectors = data.length / DISC_BLOCK + 150;
  const user = new Uint8Array(dataSectors * DISC_BLOCK);
  user.set(data);
  const horns = [horn(300, 110, 'north'), horn(225, 82, 'south')];
  const blocks = dataSectors + 525;
  const image = new Uint8Array(blocks * RAW_BYTES);
  for (let lba = 0; lba < dataSectors; lba++)
    image.set(
      makeMode1(user.subarray(lba * DISC_BLOCK, (lba + 1) * DISC_BLOCK), lba),
      lba * RAW_BYTES,
    );
  image.set(horns[0]!, dataSectors * RAW_BYTES);
  image.set(horns[1]!, (dataSectors + 300) * RAW_BYTES);
  return {
    image,
    blocks,
    tracks: [
      { number: 1, mode: 'mode1', start: 0 },
      { number: 2, mode: 'audio', start: dataSectors },
      { number: 3, mode: 'audio', start: dataSectors + 300 },
    ],
  };
}

/** Built anew at each call. */
export function deviceScenario(): DemoDevice[] {
  const survey = { lender: 'Skerrow Point survey office', lot: 'lot 2' };
  const disc = mixedDisc();
  const charts = buildIso('CHARTS_1994', [
    ...[0, 1, 2, 3, 4, 5].map((station) => ({
      path: `TIDES/T94S${station}.TXT`,
      bytes: tideTable(1994, station),
      modified: '1995-01-08T09:00:00',
    })),
    ...[1, 2, 3, 4, 5, 6, 7, 8, 9].map((n) => ({
      path: `GAUGE/G94${n}.DAT`,
      bytes: gaugeRecords(`94-${n}`, 900),
      modified: `1994-0${n}-28T17:00:00`,
    })),
    { path: 'INDEX.TXT', bytes: buoyList(1994), modified: '1995-01-08T09:10:00' },
  ]);
  const chartBlocks = 24_000;
  return [
    {
      code: 'SKP-0111',
      form: 'hard-disk',
      title: 'Hard disk of the log house',
      labelText: '“C: 40 MB — LOG HOUSE”',
      ...survey,
      condition: 'starts with a whine',
      seed: '',
      tellsWhere: true,
      machine: 'log-house desk computer, 16-bit',
      origin: {
        jumpers: 'master, alone',
        notes: 'came out of the second bay; cable kept with it',
      },
      medium: {
        kind: 'hard-disk',
        model: '40 MB, 3½-inch, parallel',
        serial: 'LH-40-22817',
        blockBytes: 512,
        blocks: GEOMETRY.cylinders * GEOMETRY.heads * GEOMETRY.sectors,
        geometry: GEOMETRY,
      },
      faults: {
        bad: [
          { from: 1260, count: 60 },
          { from: 41_300, count: 260 },
        ],
        weak: [
          { from: 1400, count: 60, needs: 2 },
          { from: 5120, count: 3, needs: 4 },
        ],
        slow: [{ from: 60_000, count: 4000, ms: 12 }],
      },
      image: buildHardDisk(GEOMETRY, 'LOGHOUSE', logHouse, oddBoot()),
    },
    {
      code: 'SKP-0112',
      form: 'optical-disc',
      title: 'Bird and fog-signal recordings',
      labelText: '“SOUNDS 1995”, felt pen',
      ...survey,
      condition: 'fine scratches along the turns',
      seed: 'SKP-0112',
      tellsWhere: true,
      medium: {
        kind: 'cd',
        blockBytes: RAW_BYTES,
        blocks: disc.blocks,
        layers: [disc.blocks],
        tracks: disc.tracks,
      },
      faults: {
        scratched: [
          { from: 60, count: 3, bytes: 90 },
          { from: 130, count: 6, bytes: 700 },
        ],
        bad: [{ from: 410, count: 2 }],
      },
      image: disc.image,
    },
    {
      code: 'SKP-0113',
      form: 'optical-disc',
      title: 'Charts and gauges, 1994',
      labelText: '“CHARTS 94”',
      ...survey,
      condition: 'one deep scratch',
      seed: '',
      tellsWhere: false,
      medium: { kind: 'dvd', blockBytes: DISC_BLOCK, blocks: chartBlocks, layers: [chartBlocks] },
      faults: {
        bad: [
          { from: 300, count: 7 },
          { from: 316, count: 5 },
        ],
        weak: [{ from: 332, count: 9, needs: 3 }],
        stuck: [{ from: 700, count: 4, unless: 1 }],
      },
      image: charts,
    },
  ];
}
