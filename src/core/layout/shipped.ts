/**
 * The twelve layouts that ship. FM: ECMA-54, ECMA-66. MFM: ECMA-69, ECMA-70, ECMA-78, ECMA-99,
 * ISO 8860, ISO/IEC 9529,
 * and denser ones that shrink the gaps. Group codes: as `docs/formats/layouts.md` describes them.
 */
import type { Layout, LaidSector, TrackGaps, TrackRule } from './layout';

const numbered = (count: number, bytes: number, first = 1): LaidSector[] =>
  Array.from({ length: count }, (_, i) => ({ r: first + i, bytes }));

const FM_GAPS: TrackGaps = {
  postIndex: 40,
  indexMark: true,
  afterIndexMark: 26,
  syncBytes: 6,
  idToData: 11,
  afterData: 27,
};
const MFM_GAPS: Omit<TrackGaps, 'afterData'> = {
  postIndex: 80,
  indexMark: true,
  afterIndexMark: 50,
  syncBytes: 12,
  idToData: 22,
};
/** Denser tracks have no index mark and only a short gap before the first sector. */
const DENSE_GAPS: Omit<TrackGaps, 'afterData'> = {
  postIndex: 32,
  indexMark: false,
  afterIndexMark: 0,
  syncBytes: 12,
  idToData: 22,
};
const ALL_80 = [0, 79] as const;

const fm = (count: number, bytes: number, cylinders: readonly [number, number]): TrackRule => ({
  encoding: 'fm',
  rateKbps: 250,
  cylinders,
  sectors: numbered(count, bytes),
  gaps: FM_GAPS,
});
const mfm = (
  rateKbps: number,
  cylinders: readonly [number, number],
  sectors: LaidSector[],
  gaps: TrackGaps,
): TrackRule => ({ encoding: 'mfm', rateKbps, cylinders, sectors, gaps });
const usual = (afterData: number): TrackGaps => ({ ...MFM_GAPS, afterData });

const plain = {
  stepping: 'single',
  firstCylinder: 0,
  recordedHeads: [0, 1],
  imageHeads: [0, 1],
  imageBy: 'cylinder',
} as const;
const oneHead = { ...plain, recordedHeads: [0], imageHeads: [0], heads: 1 } as const;

/** 4-to-5 group code: the inner a zone, the longer its cells and the fewer its sectors. */
const zone = (from: number, to: number, cellMicroseconds: number, count: number): TrackRule => ({
  encoding: 'gcr-4to5',
  rateKbps: 1000 / cellMicroseconds,
  cylinders: [from, to],
  sectors: numbered(count, 256, 0),
  gaps: {
    postIndex: 8,
    indexMark: false,
    afterIndexMark: 0,
    syncBytes: 5,
    idToData: 9,
    afterData: 8,
  },
});

export const SHIPPED_LAYOUTS: readonly Layout[] = Object.freeze([
  {
    id: 'fm-8-26x128',
    forms: ['8'],
    cylinders: 77,
    rpm: 360,
    ...oneHead,
    tracks: [fm(26, 128, [0, 76])],
  },
  {
    id: 'mixed-8-26x256',
    forms: ['8'],
    cylinders: 77,
    rpm: 360,
    ...oneHead,
    tracks: [fm(26, 128, [0, 0]), mfm(500, [1, 76], numbered(26, 256), usual(54))],
  },
  {
    id: 'mfm-8-8x1024',
    forms: ['8', '5.25'],
    cylinders: 77,
    heads: 2,
    rpm: 360,
    ...plain,
    tracks: [mfm(500, [0, 76], numbered(8, 1024), usual(116))],
  },
  {
    id: 'mfm-525-9x512',
    forms: ['5.25'],
    cylinders: 40,
    heads: 2,
    rpm: 300,
    ...plain,
    tracks: [mfm(250, [0, 39], numbered(9, 512), usual(84))],
  },
  {
    id: 'mfm-525-15x512',
    forms: ['5.25'],
    cylinders: 80,
    heads: 2,
    rpm: 360,
    ...plain,
    tracks: [mfm(500, ALL_80, numbered(15, 512), usual(84))],
  },
  {
    id: 'mfm-525-18x256',
    forms: ['5.25'],
    cylinders: 35,
    rpm: 300,
    ...oneHead,
    tracks: [mfm(250, [0, 34], numbered(18, 256), { ...DENSE_GAPS, syncBytes: 8, afterData: 24 })],
  },
  {
    id: 'mfm-35-9x512',
    forms: ['3.5'],
    cylinders: 80,
    heads: 2,
    rpm: 300,
    ...plain,
    tracks: [mfm(250, ALL_80, numbered(9, 512), usual(84))],
  },
  // The head that carries H = 0 is the upper one, and its sectors come first.
  {
    id: 'mfm-35-10x512',
    forms: ['3.5'],
    cylinders: 80,
    heads: 2,
    rpm: 300,
    ...plain,
    recordedHeads: [1, 0],
    imageHeads: [1, 0],
    tracks: [mfm(250, ALL_80, numbered(10, 512), { ...DENSE_GAPS, afterData: 35 })],
  },
  {
    id: 'mfm-35-18x512',
    forms: ['3.5'],
    cylinders: 80,
    heads: 2,
    rpm: 300,
    ...plain,
    tracks: [mfm(500, ALL_80, numbered(18, 512), usual(84))],
  },
  {
    id: 'mfm-35-5x1024+512',
    forms: ['3.5'],
    cylinders: 80,
    rpm: 300,
    ...oneHead,
    tracks: [
      mfm(250, ALL_80, [...numbered(5, 1024, 0), { r: 5, bytes: 512 }], {
        ...DENSE_GAPS,
        afterData: 28,
      }),
    ],
  },
  {
    id: 'gcr45-525-35',
    forms: ['5.25'],
    cylinders: 35,
    rpm: 300,
    ...oneHead,
    firstCylinder: 1,
    tracks: [
      zone(0, 16, 3.25, 21),
      zone(17, 23, 3.5, 19),
      zone(24, 29, 3.75, 18),
      zone(30, 34, 4, 17),
    ],
  },
  {
    id: 'gcr62-525-16x256',
    forms: ['5.25'],
    cylinders: 35,
    rpm: 300,
    ...oneHead,
    // Logical order of `.do` images: sector 0, then the physical sector that holds logical sector
    // 1, and so on.
    imageSectors: [0, 13, 11, 9, 7, 5, 3, 1, 14, 12, 10, 8, 6, 4, 2, 15],
    tracks: [
      {
        encoding: 'gcr-6and2',
        rateKbps: 250,
        cylinders: [0, 34],
        sectors: numbered(16, 256, 0),
        gaps: {
          postIndex: 16,
          indexMark: false,
          afterIndexMark: 0,
          syncBytes: 0,
          idToData: 6,
          afterData: 12,
        },
      },
    ],
  },
] satisfies Layout[]);

export function shippedLayout(id: string): Layout | undefined {
  return SHIPPED_LAYOUTS.find((layout) => layout.id === id);
}
