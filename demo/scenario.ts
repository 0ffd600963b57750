/** The sample scenario: media of the survey, with what is on them and how they aged. */
import { seededRandom } from '@/core/bits/random';
import type { Density } from '@/core/medium-form';
import type { ConditionMark } from '@/core/condition';
import type { Ageing } from '@/core/flux/ageing';
import type { FormFactor } from '@/core/flux/container';
import { bytesOf } from '@/core/layout/layout';
import { shippedLayout } from '@/core/layout/shipped';
import { layoutJson } from '@/core/layout/layout-json';
import { parseLayout } from '@/core/layout/schema';
import type { Recorded } from './capture';
import { buildFat12, type DemoFile } from './fat-builder';
import { hornProgram } from './horn-program';
import { molePlan } from './mole-plan';
import { buoyList, fogLog, gaugeRecords, harbourDues, tideTable } from './texts';

interface DemoMedium {
  code: string;
  form?: FormFactor;
  title: string;
  labelText: string;
  lender: string;
  lot: string;
  condition: string;
  marks?: ConditionMark[];
  treatFirst?: boolean;
  setName?: string;
  setNumber?: number;
  isReference?: boolean;
  /** Of a blank. */
  density?: Density;
  layout: string | null;
  image: Uint8Array | null;
  /**
   * What lies on it beside a plain image of its layout; such a disk is held, and not on the shelf.
   */
  recorded?: Recorded;
  writeProtected: boolean;
  ageing: Ageing;
  /** Already read when the scenario starts; the others wait in Arrivals. */
  held: boolean;
}

const sound = (seed: string): Ageing => ({
  seed,
  jitterNs: 40,
  innerFactor: 1.5,
  peakShiftNs: 60,
  weak: [],
  dropouts: [],
  shedding: 0,
});

const image = (layout: string, label: string, files: readonly DemoFile[]) =>
  buildFat12(shippedLayout(layout)!, label, files);

const tides: DemoFile[] = [
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

const fog: DemoFile[] = [
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

const dues: DemoFile[] = [
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

const letters: DemoFile[] = [1, 2, 3, 4, 5, 6].map((month) => ({
  path: `LETTER${month}.TXT`,
  bytes: harbourDues(1980 + month),
  modified: `1986-0${month}-12T09:00:00`,
}));

const lamps: DemoFile[] = [1, 4, 7, 10].map((month) => ({
  path: `LAMPS${month}.TXT`,
  bytes: fogLog(1988 * 100 + month, 220),
  modified: `1988-${String(month).padStart(2, '0')}-03T07:00:00`,
}));

const watch: DemoFile[] = [1, 2, 3, 4].map((quarter) => ({
  path: `WATCH${quarter}.TXT`,
  bytes: fogLog(1990 * 10 + quarter, 300),
  modified: `1990-${String(quarter * 3).padStart(2, '0')}-30T20:00:00`,
}));

const survey = { lender: 'Skerrow Point survey office', lot: 'lot 2' };
const keeper = { lender: 'keeper, north light', lot: 'lot 4' };

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
const gathered: DemoFile[] = [
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
function plainImage(id: string, text: Uint8Array): Uint8Array {
  const random = seededRandom(id);
  const bytes = Uint8Array.from({ length: bytesOf(shippedLayout(id)!) }, () => random.below(256));
  bytes.set(text.subarray(0, bytes.length));
  return bytes;
}

/**
 * A key disk: two sectors with a wrong check on purpose, and a newer format that did not reach the
 * last tracks.
 */
function keyDisk(): Recorded {
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
function schoolDisk(): Recorded {
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

/** Built anew at each call: the images take a few milliseconds. */
export function scenario(): DemoMedium[] {
  const duesImage = image('mfm-35-9x512', 'DUES', dues);
  const blank = (code: string, form: FormFactor = '3.5'): DemoMedium => ({
    code,
    form,
    title: 'blank disk, double density',
    labelText: '',
    lender: 'Record House, own stock',
    lot: 'blanks',
    condition: 'new',
    layout: null,
    image: null,
    writeProtected: false,
    ageing: sound(code),
    held: false,
    density: form === '8' ? undefined : 'double',
  });
  return [
    {
      code: 'SKP-0098',
      title: 'Buoys and fog, 1987–90',
      labelText: '“FOG LOGS + TIDES 90”',
      setName: 'Fog signal logs',
      setNumber: 1,
      ...survey,
      condition: 'good',
      layout: 'mfm-35-18x512',
      image: image('mfm-35-18x512', 'FOGTIDES', fog),
      writeProtected: true,
      ageing: sound('SKP-0098'),
      held: true,
    },
    {
      code: 'SKP-0099',
      title: 'Gathered before the move',
      labelText: '“OLD DISKS 1”',
      ...survey,
      condition: 'good',
      layout: 'mfm-35-18x512',
      image: image('mfm-35-18x512', 'GATHERED', gathered),
      writeProtected: false,
      ageing: sound('SKP-0099'),
      held: true,
    },
    {
      code: 'SKP-0101',
      title: 'Chart plotting, key disk',
      labelText: '“PLOT 3 — KEY — DO NOT COPY”',
      lender: 'harbour school',
      lot: 'lot 3',
      condition: 'good',
      layout: null,
      image: null,
      recorded: keyDisk(),
      writeProtected: true,
      ageing: sound('SKP-0101'),
      held: true,
    },
    {
      code: 'SKP-0102',
      title: 'School timetable, own format',
      labelText: '“timetbl”, felt pen',
      lender: 'harbour school',
      lot: 'lot 3',
      condition: 'good',
      layout: null,
      image: null,
      recorded: schoolDisk(),
      writeProtected: false,
      ageing: sound('SKP-0102'),
      held: true,
    },
    // The spindle faltered while one sector was written: its cells swell by a third, more than any
    // usual recovery follows.
    {
      code: 'SKP-0103',
      title: 'Lamp rota, 1988',
      labelText: '“LAMPS 88”',
      ...keeper,
      condition: 'good',
      layout: 'mfm-35-9x512',
      image: image('mfm-35-9x512', 'LAMPS', lamps),
      writeProtected: false,
      ageing: {
        ...sound('SKP-0103'),
        stretched: [{ cylinder: 1, head: 0, from: 0.36, to: 0.42, by: 0.35 }],
      },
      held: true,
    },
    {
      code: 'SKP-0104',
      title: 'Harbour dues 1989–91',
      labelText: '“DUES”',
      lender: 'harbour school',
      lot: 'lot 3',
      condition: 'light scratches',
      layout: 'mfm-35-9x512',
      image: duesImage,
      writeProtected: false,
      ageing: { ...sound('SKP-0104'), dropouts: [{ cylinder: 61, head: 1, from: 0.35, to: 0.36 }] },
      held: true,
    },
    {
      code: 'SKP-0105',
      form: '8',
      title: 'Tide tables, 1978',
      labelText: '“TIDES 78 / SD”, stamped',
      ...survey,
      condition: 'sleeve foxed',
      layout: 'fm-8-26x128',
      image: plainImage('fm-8-26x128', tideTable(1978, 0)),
      writeProtected: true,
      ageing: sound('SKP-0105'),
      held: false,
    },
    {
      code: 'SKP-0106',
      form: '5.25',
      title: 'Office letters, 1986',
      labelText: '“LETTERS”, typed',
      ...survey,
      condition: 'good',
      layout: 'mfm-525-9x512',
      image: image('mfm-525-9x512', 'LETTERS', letters),
      writeProtected: false,
      ageing: sound('SKP-0106'),
      held: false,
    },
    {
      code: 'SKP-0107',
      form: '5.25',
      title: 'Plot charts',
      labelText: '“plot”, felt pen; school stamp',
      lender: 'harbour school',
      lot: 'lot 3',
      condition: '',
      marks: ['scratches'],
      layout: 'gcr45-525-35',
      image: plainImage('gcr45-525-35', harbourDues(1984)),
      writeProtected: false,
      ageing: sound('SKP-0107'),
      held: false,
    },
    {
      code: 'SKP-0117',
      title: 'Tide tables, north mole, 1984–86',
      labelText: '“NTH MOLE / DO NOT FORMAT”, pencil',
      ...keeper,
      condition: 'lower edge',
      marks: ['shedding'],
      layout: 'mfm-35-9x512',
      image: image('mfm-35-9x512', 'NORTHMOLE', tides),
      writeProtected: true,
      ageing: {
        seed: 'SKP-0117',
        jitterNs: 70,
        innerFactor: 2,
        peakShiftNs: 160,
        shedding: 0.0004,
        weak: [
          { cylinder: 12, head: 0, from: 0.3, to: 0.33 },
          { cylinder: 38, head: 1, from: 0.55, to: 0.57 },
          { cylinder: 52, head: 0, from: 0.1, to: 0.16 },
          { cylinder: 53, head: 0, from: 0.12, to: 0.15 },
          { cylinder: 57, head: 1, from: 0.62, to: 0.66 },
        ],
        dropouts: [
          { cylinder: 54, head: 0, from: 0.42, to: 0.424 },
          { cylinder: 70, head: 1, from: 0.815, to: 0.83 },
        ],
      },
      held: false,
    },
    {
      code: 'SKP-0123',
      form: '8',
      title: 'Not known yet',
      labelText: 'no label; “K.V. 3/85” on sleeve',
      lender: '',
      lot: 'lot 2',
      condition: 'both sides',
      marks: ['mould'],
      treatFirst: true,
      layout: 'fm-8-26x128',
      image: plainImage('fm-8-26x128', fogLog(1985, 90)),
      writeProtected: false,
      ageing: sound('SKP-0123'),
      held: false,
    },
    {
      code: 'SKP-0124',
      title: 'Fog logs, second set',
      labelText: '“FOG SIGNAL 2”',
      setName: 'Fog signal logs',
      setNumber: 2,
      ...keeper,
      condition: 'good',
      layout: 'mfm-35-18x512',
      image: image('mfm-35-18x512', 'FOGTIDES', fog),
      writeProtected: false,
      ageing: { ...sound('SKP-0124'), weak: [{ cylinder: 74, head: 0, from: 0.2, to: 0.23 }] },
      held: false,
    },
    // It sheds: the head goes blind while it is read, until somebody cleans it.
    {
      code: 'SKP-0126',
      form: '5.25',
      title: 'Siren watch book, 1990',
      labelText: '“WATCH 90”, ink run',
      ...keeper,
      condition: 'brown dust in the sleeve',
      marks: ['shedding'],
      layout: 'mfm-525-9x512',
      image: image('mfm-525-9x512', 'WATCH90', watch),
      writeProtected: true,
      ageing: { ...sound('SKP-0126'), shedding: 0.012 },
      held: false,
    },
    {
      code: 'SKP-0128',
      title: 'Harbour dues, copy of copy',
      labelText: '“Harbour dues 91, copy of copy”',
      lender: 'harbour school',
      lot: 'lot 3',
      condition: 'good',
      layout: 'mfm-35-9x512',
      image: duesImage,
      writeProtected: false,
      ageing: sound('SKP-0128'),
      held: false,
    },
    {
      code: 'REF-0001',
      title: 'reference disk, double density',
      labelText: '“REFERENCE, do not write”',
      lender: 'Record House, own stock',
      lot: 'references',
      condition: 'new',
      isReference: true,
      layout: 'mfm-35-9x512',
      image: plainImage('mfm-35-9x512', harbourDues(1993)),
      writeProtected: true,
      ageing: sound('REF-0001'),
      held: false,
    },
    blank('BLK-0001'),
    blank('BLK-0002'),
    blank('BLK-0003'),
    blank('BLK-0004', '5.25'),
    blank('BLK-0005', '8'),
  ];
}
