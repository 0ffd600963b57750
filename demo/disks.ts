/** Disks of the sample scenario, made from seeds. */
import { seededRandom } from '@/core/bits/random';
import { bytesOf } from '@/core/layout/layout';
import { shippedLayout } from '@/core/layout/shipped';
import { layoutJson } from '@/core/layout/layout-json';
import { parseLayout } from '@/core/layout/schema';
import type { Recorded } from './capture';
import { type DemoFile } from './fat-builder';
import { hornProgram } from './horn-program';
import { molePlan } from './mole-plan';
import { buoyList, fogLog, gaugeRecords, harbourDues, tideTable } from './texts';
import { image } from './disk-image';

export const tides: DemoFile[] = [
  {
    path: 'README.TXT',
    bytes: new TextEncoder().encode(
      'TIDE TABLES OF THE NORTH MOLE, 1984 TO 1986.\r\nKEPT BY THE SURVEY OFFICE. DO ' +
        'NOT FORMAT.\r\n',
    ),
    modified: '1987-01-05T09:12:00',
  },
  ...[1984, 1985, 1986].map((year) => ({
    path: `TIDES/NM${year}.TXT`,
    bytes: tideTable(year, 0),
    modified: `${year + 1}-01-04T10:30:00`,
  })),
  ...[1984, 1985, 1986].map((year) => ({
    path: `TIDES/SL${year}.TXT`,
    bytes: tideTable(year, 1),
    modified: `${year + 1}-01-04T11:10:00`,
  })),
  { path: 'GAUGE85.DAT', bytes: gaugeRecords('1985', 1500), modified: '1986-02-11T16:00:00' },
  {
    path: 'OLDTIDE.DAT',
    bytes: gaugeRecords('old', 60),
    modified: '1985-03-02T08:20:00',
    deleted: true,
  },
  { path: 'GAUGE86.DAT', bytes: gaugeRecords('1986', 1900), modified: '1987-01-03T15:44:00' },
];

export const fog: DemoFile[] = [
  ...[1987, 1988, 1989, 1990].map((year) => ({
    path: `FOGLOG${year % 100}.TXT`,
    bytes: fogLog(year, 360),
    modified: `${year}-12-31T18:00:00`,
  })),
  { path: 'BUOYS.TXT', bytes: buoyList(1987), modified: '1987-04-02T12:00:00' },
  ...[0, 1, 2, 3, 4, 5].map((station) => ({
    path: `TIDES/T90S${station}.TXT`,
    bytes: tideTable(1990, station),
    modified: '1991-01-08T09:00:00',
  })),
  ...[1, 2, 3, 4].map((quarter) => ({
    path: `GAUGE/G90Q${quarter}.DAT`,
    bytes: gaugeRecords(`90q${quarter}`, 2400),
    modified: `1990-${String(quarter * 3).padStart(2, '0')}-28T17:00:00`,
  })),
];

export const dues: DemoFile[] = [
  ...[1989, 1990, 1991].map((year) => ({
    path: `DUES${year}.CSV`,
    bytes: harbourDues(year),
    modified: `${year}-12-30T16:05:10`,
  })),
  { path: 'BUOYS.TXT', bytes: buoyList(1987), modified: '1990-05-02T12:00:00' },
  {
    path: 'LETTER.TXT',
    bytes: new TextEncoder().encode(
      'To the Harbour Master, Skerrow Point\r\n\r\nSir, the dues of the Kittiwake for ' +
        'March were entered twice.\r\nPlease strike the second entry.\r\n\r\nThe ' +
        'clerk\r\n',
    ),
    modified: '1991-04-09T11:22:30',
  },
];

export const letters: DemoFile[] = [1, 2, 3, 4, 5, 6].map((month) => ({
  path: `LETTER${month}.TXT`,
  bytes: harbourDues(1980 + month),
  modified: `1986-0${month}-12T09:00:00`,
}));

export const lamps: DemoFile[] = [1, 4, 7, 10].map((month) => ({
  path: `LAMPS${month}.TXT`,
  bytes: fogLog(1988 * 100 + month, 220),
  modified: `1988-${String(month).padStart(2, '0')}-03T07:00:00`,
}));

export const watch: DemoFile[] = [1, 2, 3, 4].map((quarter) => ({
  path: `WATCH${quarter}.TXT`,
  bytes: fogLog(1990 * 10 + quarter, 300),
  modified: `1990-${String(quarter * 3).padStart(2, '0')}-30T20:00:00`,
}));

const plot: DemoFile[] = [
  {
    path: 'READ.ME',
    bytes: new TextEncoder().encode(
      'CHART PLOTTING, THIRD ISSUE.\r\nTHE PROGRAM LOOKS FOR THIS DISK. A COPY WILL NOT DO.\r\n',
    ),
    modified: '1988-09-12T10:00:00',
  },
  ...[1987, 1988].map((year) => ({
    path: `SOUND${year % 100}.TXT`,
    bytes: fogLog(year, 200),
    modified: `${year}-11-30T18:00:00`,
  })),
  { path: 'BUOYS.TXT', bytes: buoyList(1988), modified: '1988-09-12T10:05:00' },
];

/**
 * What the office kept of smaller disks when it had larger ones: a disk as a file, a program, a
 * plan.
 */
export const gathered: DemoFile[] = [
  {
    path: 'ABOUT.TXT',
    bytes: new TextEncoder().encode(
      'WHAT WAS ON THE OLD DISKS, GATHERED BEFORE THE MOVE.\r\nLETTERS.IMG IS THE ' +
        'WHOLE DISK, MADE BY THE CLERK.\r\n',
    ),
    modified: '1991-10-04T09:00:00',
  },
  {
    path: 'LETTERS.IMG',
    bytes: image('mfm-525-9x512', 'LETTERS', letters),
    modified: '1991-10-04T09:30:00',
  },
  { path: 'PROGRAMS/HORN.BAS', bytes: hornProgram(), modified: '1987-02-11T14:20:00' },
  { path: 'PLANS/MOLE.BMP', bytes: molePlan(), modified: '1991-09-20T11:00:00' },
  { path: 'PLANS/DEPTHS86.TXT', bytes: fogLog(1986, 120), modified: '1991-09-20T11:05:00' },
];

/** Writing and then noise: what a disk without a volume that is read here holds. */
export function plainImage(id: string, text: Uint8Array): Uint8Array {
  const random = seededRandom(id);
  const bytes = Uint8Array.from({ length: bytesOf(shippedLayout(id)!) }, () => random.below(256));
  bytes.set(text.subarray(0, bytes.length));
  return bytes;
}

/**
 * A key disk: two sectors with a wrong check on purpose, and a newer format that did not reach the
 * last tracks.
 */
export function keyDisk(): Recorded {
  const older = shippedLayout('mfm-35-10x512')!;
  return {
    layout: shippedLayout('mfm-35-9x512')!,
    image: image('mfm-35-9x512', 'PLOT3', plot),
    marks: (cylinder, head) =>
      cylinder === 40 && head === 0 ? { wrongCheck: new Set([3, 7]) } : {},
    older: { layout: older, image: new Uint8Array(bytesOf(older)).fill(0xe5), from: 78 },
  };
}

/** Seven sectors a track, numbered from 65: a format of the school's own making. */
export function schoolDisk(): Recorded {
  const { layout } = parseLayout({
    ...layoutJson(shippedLayout('mfm-35-9x512')!),
    id: 'school-7x512',
    tracks: [
      {
        cylinders: [0, 79],
        encoding: 'mfm',
        rateKbps: 250,
        sectors: { first: 65, count: 7, bytes: 512 },
        gaps: { afterData: 120 },
      },
    ],
  });
  const bytes = new Uint8Array(bytesOf(layout!)).fill(0x20);
  bytes.set(harbourDues(1986).subarray(0, 40_000));
  return { layout: layout!, image: bytes };
}
