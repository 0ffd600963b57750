/**
 * Layouts as data: the twelve, JSON both ways, sentences for what is wrong, round trips for random
 * ones, matches and proposals.
 */
import { tell } from '@/messages/tell';
import fc from 'fast-check';
import { seededRandom } from '../bits/random';
import { perfectReading } from '../flux/synthesis';
import type { TrackReading } from '../flux/reading';
import { buildFlatImage } from '../image/flat';
import { encodeImage } from '../image/encode-image';
import { INLINE, allSectors, decodeCapture } from '../reading/decode/decode-capture';
import {
  bytesOf,
  describeLayout,
  formatAt,
  sectorCount,
  sectorsInOrder,
  tracksOfImage,
  type Layout,
} from './layout';
import { layoutJson } from './layout-json';
import { parseLayout, type LayoutFile } from './schema';
import { SHIPPED_LAYOUTS, shippedLayout } from './shipped';

const TICK_HZ = 24_000_000;

/** A capture of some cylinders of a made-up disk. */
function captureOf(
  layout: Layout,
  seed: string,
  cylinders: readonly number[],
  step = 1,
): { image: Uint8Array; readings: TrackReading[] } {
  const random = seededRandom(seed);
  const image = Uint8Array.from({ length: bytesOf(layout) }, () => random.below(256));
  const readings = [...encodeImage(layout, image)]
    .filter(({ cylinder }) => cylinders.includes(cylinder))
    .map(({ cylinder, head, turn }) =>
      perfectReading(
        turn,
        { cylinder: cylinder * step, head, pass: 0 },
        (TICK_HZ * 60) / layout.rpm,
        2,
      ),
    );
  return { image, readings };
}

const header = (layout: Layout) => ({ tickHz: TICK_HZ, rpm: layout.rpm, form: layout.forms[0] });

// Sizes of the formats page, section 1.6.
test.each([
  ['fm-8-26x128', 256_256],
  ['mixed-8-26x256', 509_184],
  ['mfm-8-8x1024', 1_261_568],
  ['mfm-525-9x512', 368_640],
  ['mfm-525-15x512', 1_228_800],
  ['mfm-525-18x256', 161_280],
  ['mfm-35-9x512', 737_280],
  ['mfm-35-10x512', 819_200],
  ['mfm-35-18x512', 1_474_560],
  ['mfm-35-5x1024+512', 450_560],
  ['gcr45-525-35', 174_848],
  ['gcr62-525-16x256', 143_360],
])('%s holds %i bytes, and its JSON gives it back', (id, bytes) => {
  const layout = shippedLayout(id)!;
  expect(bytesOf(layout)).toBe(bytes);
  expect(parseLayout(JSON.parse(JSON.stringify(layoutJson(layout))))).toEqual({
    layout: JSON.parse(JSON.stringify(layout)),
    problems: [],
  });
});

test('there are twelve', () => expect(SHIPPED_LAYOUTS).toHaveLength(12));

test('the zones have 683 sectors, and innermost the fewest', () => {
  const layout = shippedLayout('gcr45-525-35')!;
  expect(sectorCount(layout)).toBe(683);
  expect(
    [0, 16, 17, 23, 24, 29, 30, 34].map(
      (cylinder) => formatAt(layout, cylinder, 0)!.sectors.length,
    ),
  ).toEqual([21, 21, 19, 19, 18, 18, 17, 17]);
});

test('the image of the denser disk begins with the head whose IDs say 0', () => {
  expect(
    tracksOfImage(shippedLayout('mfm-35-10x512')!)
      .slice(0, 3)
      .map(({ cylinder, head }) => [cylinder, head]),
  ).toEqual([
    [0, 1],
    [0, 0],
    [1, 1],
  ]);
});

test('interleave and skew decide the order under the head', () => {
  const { layout } = parseLayout({
    ...FILE,
    tracks: [{ ...FILE.tracks[0], interleave: 2, skew: 1, headSkew: 3 }],
  });
  const numbers = (cylinder: number, head: number) =>
    sectorsInOrder(layout!.tracks[0]!, cylinder, head).map(({ r }) => r);
  expect(numbers(0, 0)).toEqual([1, 6, 2, 7, 3, 8, 4, 9, 5]);
  expect(numbers(1, 0)).toEqual([5, 1, 6, 2, 7, 3, 8, 4, 9]);
  expect(numbers(0, 1)[3]).toBe(1);
});

const FILE: LayoutFile = {
  format: 'frail-spindle-layout',
  version: 1,
  id: 'own-9x512',
  forms: ['3.5'],
  cylinders: 80,
  heads: 2,
  rpm: 300,
  tracks: [
    {
      cylinders: [0, 79],
      encoding: 'mfm',
      rateKbps: 250,
      sectors: { first: 1, count: 9, bytes: 512 },
    },
  ],
};
const [TRACK] = FILE.tracks;

test.each<[string, unknown, RegExp]>([
  ['no object', 7, /the file: .*expected object/],
  ['another format', { ...FILE, format: 'x' }, /^format: /],
  ['an unknown key', { ...FILE, colour: 'red' }, /colour/],
  ['an id with a space', { ...FILE, id: 'My disk' }, /id: an id is 1 to 60 small letters/],
  [
    'cylinders beyond the last',
    { ...FILE, tracks: [{ ...TRACK, cylinders: [0, 80] }] },
    /tracks\[0\].cylinders: there is no cylinder 80, the last is 79/,
  ],
  [
    'tracks without a format',
    { ...FILE, tracks: [{ ...TRACK, cylinders: [0, 60] }] },
    /cylinder 61, head 0 has no format/,
  ],
  [
    'tracks with two formats',
    { ...FILE, tracks: [TRACK, { ...TRACK, heads: [1] }] },
    /cylinder 0, head 1 has 2 formats/,
  ],
  [
    'a number that stands twice',
    {
      ...FILE,
      tracks: [
        {
          ...TRACK,
          sectors: [
            { r: 1, bytes: 512 },
            { r: 1, bytes: 512 },
          ],
        },
      ],
    },
    /number 1 stands there twice/,
  ],
  [
    'a size without a code',
    { ...FILE, tracks: [{ ...TRACK, sectors: { count: 2, bytes: 500 } }] },
    /500 bytes have no size code/,
  ],
  [
    'more than fits the turn',
    { ...FILE, tracks: [{ ...TRACK, sectors: { count: 12, bytes: 512 } }] },
    /tracks\[0\]: the sectors do not fit on the track: its turn has 100000 cells/,
  ],
  [
    'heads that are not there',
    { ...FILE, heads: 1, tracks: [{ ...TRACK, heads: [1] }] },
    /the disk has only head 0/,
  ],
  [
    'sectors in no known way',
    { ...FILE, tracks: [{ ...TRACK, sectors: 9 }] },
    /say the sectors as/,
  ],
])('%s is refused with a sentence', (_, json, message) => {
  const { layout, problems } = parseLayout(json);
  expect(layout).toBeNull();
  expect(problems.join('\n')).toMatch(message);
});

const RANDOM_LAYOUT = fc
  .record({
    encoding: fc.constantFrom('fm', 'mfm', 'gcr-4to5', 'gcr-6and2'),
    size: fc.constantFrom(128, 256, 512, 1024),
    fill: fc.double({ min: 0.3, max: 0.9, noNaN: true }),
    first: fc.constantFrom(0, 1, 65),
    heads: fc.constantFrom(1, 2),
    rpm: fc.constantFrom(300, 360),
    rate: fc.constantFrom(250, 300, 500),
    interleave: fc.integer({ min: 1, max: 5 }),
    skew: fc.integer({ min: 0, max: 4 }),
    swapped: fc.boolean(),
    seed: fc.string(),
  })
  .map(({ encoding, size, fill, first, heads, rpm, rate, interleave, skew, swapped, seed }) => {
    const group = encoding.startsWith('gcr');
    const rateKbps = group ? 280 : encoding === 'fm' ? Math.min(rate, 300) : rate;
    const bytes = group ? 256 : size;
    const room = (rateKbps * 1000 * 60) / rpm / 8 / (group ? 1.25 : 1);
    const count = Math.max(1, Math.min(40, Math.floor((fill * room) / (bytes + 110))));
    return {
      seed,
      file: {
        format: 'frail-spindle-layout',
        version: 1,
        id: 'random',
        forms: ['5.25'],
        cylinders: 4,
        heads,
        rpm,
        recordedHeads: swapped && heads === 2 ? [1, 0] : undefined,
        tracks: [
          {
            cylinders: [0, 3],
            encoding,
            rateKbps,
            sectors: { first, count, bytes },
            interleave,
            skew,
            gaps: encoding === 'mfm' ? { afterData: 30 } : {},
          },
        ],
      },
    };
  });

/**
 * One sector on a track that is a gap for the rest: between two looks at the track it was once not
 * seen.
 */
const LONE_SECTOR = {
  seed: 'lone',
  file: {
    format: 'frail-spindle-layout',
    version: 1,
    id: 'random',
    forms: ['5.25'],
    cylinders: 4,
    heads: 1,
    rpm: 360,
    recordedHeads: undefined,
    tracks: [
      {
        cylinders: [0, 3],
        encoding: 'fm',
        rateKbps: 300,
        sectors: { first: 1, count: 1, bytes: 1024 },
        interleave: 5,
        skew: 3,
        gaps: {},
      },
    ],
  },
};

test('whatever a layout lays down is read back, with the layout and without it', async () => {
  await fc.assert(
    fc.asyncProperty(RANDOM_LAYOUT, async ({ file, seed }) => {
      const { layout, problems } = parseLayout(file);
      expect(problems).toEqual([]);
      const { image, readings } = captureOf(layout!, seed, [0, 1, 2, 3]);
      for (const layouts of [[layout!, ...SHIPPED_LAYOUTS], SHIPPED_LAYOUTS]) {
        const decoded = await decodeCapture(header(layout!), readings, { layouts });
        // With most of its sectors a known layout is near enough.
        if (decoded.layout && decoded.layout !== layout) continue;
        const by = decoded.layout ?? decoded.proposal!;
        expect(sectorCount(by)).toBe(sectorCount(layout!));
        const bytes = buildFlatImage(by, allSectors({ ...decoded, layout: by })).bytes;
        expect(Buffer.compare(bytes, image)).toBe(0);
      }
    }),
    { numRuns: 8, endOnFailure: true, examples: [[LONE_SECTOR as never]] },
  );
});

test('a layout that none of the known ones is gets proposed, zone by zone, and can be used as it is', async () => {
  const { layout } = parseLayout({
    ...FILE,
    id: 'odd',
    cylinders: 12,
    firstCylinder: 1,
    tracks: [
      {
        cylinders: [0, 1],
        encoding: 'fm',
        rateKbps: 125,
        sectors: { first: 1, count: 9, bytes: 256 },
      },
      {
        cylinders: [2, 11],
        encoding: 'mfm',
        rateKbps: 250,
        sectors: [...[1, 2, 3, 4, 5].map((r) => ({ r, bytes: 1024 })), { r: 9, bytes: 256 }],
        gaps: { afterData: 20 },
      },
    ],
  });
  const { image, readings } = captureOf(
    layout!,
    'odd',
    Array.from({ length: 12 }, (_, i) => i),
  );
  const decoded = await decodeCapture(header(layout!), readings, { layouts: SHIPPED_LAYOUTS });
  expect(decoded.layout).toBeNull();
  expect(decoded.proposal).toMatchObject({
    cylinders: 12,
    heads: 2,
    firstCylinder: 1,
    tracks: [
      { encoding: 'fm', rateKbps: 125, cylinders: [0, 1] },
      { encoding: 'mfm', rateKbps: 250, cylinders: [2, 11] },
    ],
  });
  const proposed = parseLayout({ ...layoutJson(decoded.proposal!), id: 'kept' });
  expect(proposed.problems).toEqual([]);
  const again = await decodeCapture(header(layout!), readings, {
    layouts: [...SHIPPED_LAYOUTS, proposed.layout!],
  });
  expect(again.layout!.id).toBe('kept');
  expect(Buffer.compare(buildFlatImage(again.layout!, allSectors(again)).bytes, image)).toBe(0);
  expect(tell(describeLayout(proposed.layout!))).toBe(
    '3½-inch, 12 cylinders, 2 heads, FM, 125 kbit/s, 9 × 256, then MFM, 250 kbit/s, 5 × 1024 + 1 × 256',
  );
});

test('a 40-cylinder disk in an 80-cylinder drive is stepped twice; what lies between is left out', async () => {
  const layout = shippedLayout('mfm-525-9x512')!;
  const { image, readings } = captureOf(
    layout,
    'double',
    Array.from({ length: 40 }, (_, i) => i),
    2,
  );
  const ghosts = readings
    .slice(0, 20)
    .map((reading) => ({ ...reading, cylinder: reading.cylinder + 1 }));
  const decoded = await decodeCapture(
    { ...header(layout), cylinders: 80 },
    [...readings, ...ghosts],
    { layouts: SHIPPED_LAYOUTS },
  );
  expect(decoded).toMatchObject({ stepping: 2, layout: { id: 'mfm-525-9x512' } });
  expect(decoded.strange).toHaveLength(20);
  expect(decoded.strange[0]!.what).toEqual({ code: 'decode.liesBetweenTwoCylinders' });
  const sectors = allSectors(decoded);
  expect(sectors).toHaveLength(720);
  expect(Buffer.compare(buildFlatImage(layout, sectors, { stepping: 2 }).bytes, image)).toBe(0);
});

test('an older format that shows through on the last tracks is said, track by track', async () => {
  const newer = shippedLayout('mfm-35-9x512')!;
  const older = shippedLayout('mfm-35-10x512')!;
  const { readings } = captureOf(newer, 'newer', [0, 1, 2, 3, 76, 77]);
  const { readings: left } = captureOf(older, 'older', [78, 79]);
  const { layout, strange } = await decodeCapture(header(newer), [...readings, ...left], {
    layouts: SHIPPED_LAYOUTS,
    workers: INLINE,
  });
  expect(layout!.id).toBe('mfm-35-9x512');
  expect(strange.map((each) => ({ ...each, what: tell(each.what) }))).toEqual(
    [
      [78, 0],
      [78, 1],
      [79, 0],
      [79, 1],
    ].map(([cylinder, head]) => ({
      cylinder,
      head,
      what: 'holds another format: MFM, 10 × 512, numbers 1 to 10',
    })),
  );
});

test('a capture of nothing matches nothing and proposes nothing', async () => {
  const random = seededRandom('noise');
  const readings = [0, 1, 2].map((cylinder) => ({
    cylinder,
    head: 0,
    pass: 0,
    index: [0, 4_800_000],
    flux: Uint8Array.from({ length: 40_000 }, () => 20 + random.below(100)),
  }));
  expect(
    await decodeCapture({ tickHz: TICK_HZ, rpm: 300 }, readings, { layouts: SHIPPED_LAYOUTS }),
  ).toMatchObject({ layout: null, proposal: null, strange: [] });
});
