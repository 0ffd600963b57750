/** The sample scenario: media of the survey, with what is on them and how they aged. */
import type { Density } from '@/core/medium-form';
import type { ConditionMark } from '@/core/condition';
import type { Ageing } from '@/core/flux/ageing';
import type { FormFactor } from '@/core/flux/container';
import type { Recorded } from './capture';
import { fogLog, harbourDues, tideTable } from './texts';
import {
  tides,
  fog,
  dues,
  letters,
  lamps,
  watch,
  gathered,
  plainImage,
  keyDisk,
  schoolDisk,
} from './disks';
import { image } from './disk-image';

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

const survey = { lender: 'Skerrow Point survey office', lot: 'lot 2' };

const keeper = { lender: 'keeper, north light', lot: 'lot 4', shelf: 'room 2, shelf 4, box 11' };

/** Built anew at each call: the images take a few milliseconds. */
/** Media that are read and kept already. */
function heldMedia(duesImage: Uint8Array): DemoMedium[] {
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
  ];
}

/** Media that wait to be read. */
function waitingMedia(duesImage: Uint8Array): DemoMedium[] {
  return [
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
  ];
}

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
/** What the house has of its own: a reference disk, and blanks. */
function ownStock(): DemoMedium[] {
  return [
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

export function scenario(): DemoMedium[] {
  const duesImage = image('mfm-35-9x512', 'DUES', dues);
  return [...heldMedia(duesImage), ...waitingMedia(duesImage), ...ownStock()];
}
