/** What speaks for a layout, and what is worked out where none fits: from evidence made by hand. */
import { bestMatch, follows, matchLayouts, steppingOf, type TrackEvidence } from './match';
import { proposeLayout } from './propose';
import { formatAt, turnCells, type EncodingId, type Layout } from './layout';
import { SHIPPED_LAYOUTS, shippedLayout } from './shipped';

const PLAIN = shippedLayout('mfm-35-9x512')!;
const ZONED = shippedLayout('gcr45-525-35')!;

/** What a head would see of a layout's track, less what `lost` takes away. */
function seen(
  layout: Layout,
  cylinder: number,
  head: number,
  { step = 1, lost = () => false }: { step?: number; lost?: (r: number) => boolean } = {},
): TrackEvidence {
  const format = formatAt(layout, cylinder, head)!;
  const isPlain = format.encoding === 'fm' || format.encoding === 'mfm';
  return {
    cylinder: cylinder * step,
    head,
    encoding: format.encoding,
    turnCells: turnCells(format, layout.rpm),
    found: format.sectors
      .filter(({ r }) => !lost(r))
      .map(({ r, bytes }) => ({
        c: cylinder + layout.firstCylinder,
        h: isPlain ? (layout.recordedHeads[head] ?? head) : null,
        r,
        size: bytes,
      })),
  };
}
const EMPTY = (cylinder: number, head = 0): TrackEvidence => ({
  cylinder,
  head,
  encoding: null,
  turnCells: 0,
  found: [],
});
const tracksOf = (layout: Layout, cylinders: readonly number[], step = 1): TrackEvidence[] =>
  cylinders.flatMap((cylinder) =>
    Array.from({ length: layout.heads }, (_, head) => seen(layout, cylinder, head, { step })),
  );
const SOME = [0, 1, 10, 20, 34];

describe('stepping', () => {
  test('a disk in a drive of as many cylinders steps once', () =>
    expect(steppingOf(tracksOf(PLAIN, [5, 6, 20, 40]))).toBe(1));

  test('one of half as many steps twice, though the tracks between show their neighbours', () => {
    const tracks = tracksOf(ZONED, [4, 10, 30], 2);
    const ghosts = tracks.map((track) => ({ ...track, cylinder: track.cylinder + 1 }));
    expect(steppingOf([...tracks, ...ghosts])).toBe(2);
  });

  test('the first cylinders say nothing of it, and nothing says once', () => {
    expect(steppingOf(tracksOf(ZONED, [0, 1], 2))).toBe(1);
    expect(steppingOf([])).toBe(1);
  });
});

test.each(SHIPPED_LAYOUTS.map((layout) => [layout.id, layout] as const))(
  '%s is told from all others by a few of its tracks',
  (id, layout) => {
    const [form] = layout.forms;
    const matches = matchLayouts(SHIPPED_LAYOUTS, form!, tracksOf(layout, SOME));
    const [best, next] = matches;
    expect(best!.layout.id).toBe(id);
    expect(best!.confidence).toBeGreaterThan(0.95);
    expect(best!.confidence - next!.confidence).toBeGreaterThan(0.02);
  },
);

test('a layout of another size of disk has no part in it', () => {
  const matches = matchLayouts(SHIPPED_LAYOUTS, '8', tracksOf(PLAIN, SOME));
  const own = matches.find(({ layout }) => layout.id === PLAIN.id)!;
  expect(own.confidence).toBe(0);
});

test('the more is lost, the less it is sure, down to none', () => {
  const confidences = [0, 3, 6, 9].map((most) => {
    const tracks = SOME.flatMap((cylinder) =>
      [0, 1].map((head) => seen(PLAIN, cylinder, head, { lost: (r) => r <= most })),
    );
    return matchLayouts([PLAIN], '3.5', tracks)[0]!.confidence;
  });
  expect([...confidences].sort((a, b) => b - a)).toEqual(confidences);
  expect([confidences[0]! > 0.99, confidences[3]]).toEqual([true, 0]);
  expect(
    bestMatch(
      matchLayouts(
        [PLAIN],
        '3.5',
        SOME.map((each) => EMPTY(each)),
      ),
    ),
  ).toBeNull();
  expect(bestMatch([])).toBeNull();
});

test('tracks with nothing on them take nothing away', () => {
  const tracks = tracksOf(PLAIN, SOME);
  const [with_, without] = [[...tracks, EMPTY(81), EMPTY(82, 1)], tracks].map(
    (each) => matchLayouts([PLAIN], '3.5', each)[0]!.confidence,
  );
  expect(with_).toBe(without);
});

test('another rate, another code and other numbers each speak against it', () => {
  const tracks = tracksOf(PLAIN, SOME);
  const of = (change: (track: TrackEvidence) => Partial<TrackEvidence>) =>
    matchLayouts(
      [PLAIN],
      '3.5',
      tracks.map((track) => ({ ...track, ...change(track) })),
    )[0]!.confidence;
  expect(of(({ turnCells: cells }) => ({ turnCells: 2 * cells }))).toBe(0);
  expect(of(() => ({ encoding: 'fm' as EncodingId }))).toBe(0);
  const renumbered = of(({ found }) => ({
    found: found.map((each) => ({ ...each, r: each.r + 64 })),
  }));
  expect(renumbered).toBe(0);
  // IDs that name another head are doubted, and no more.
  const otherHead = of(({ found }) => ({ found: found.map((each) => ({ ...each, h: 7 })) }));
  expect(otherHead).toBeGreaterThan(0.8);
  expect(otherHead).toBeLessThan(0.9);
});

test('whether a single track follows a layout', () => {
  expect(follows(seen(PLAIN, 7, 1), PLAIN, 1)).toBe(true);
  expect(follows(EMPTY(7), PLAIN, 1)).toBe(true);
  expect(follows({ ...seen(PLAIN, 7, 1), encoding: 'fm' }, PLAIN, 1)).toBe(false);
  const other = { ...seen(PLAIN, 7, 1), head: 0 };
  expect(follows(other, PLAIN, 1)).toBe(false);
  // On every second cylinder of the drive only.
  expect(follows(seen(PLAIN, 7, 0, { step: 2 }), PLAIN, 2)).toBe(true);
  expect(follows({ ...seen(PLAIN, 7, 0), cylinder: 15 }, PLAIN, 2)).toBe(false);
});

describe('a layout that is worked out', () => {
  const all = (layout: Layout, step = 1) =>
    tracksOf(
      layout,
      Array.from({ length: layout.cylinders }, (_, i) => i),
      step,
    );

  test.each(SHIPPED_LAYOUTS.map((layout) => [layout.id, layout] as const))(
    'of all tracks of %s has the same sectors on each',
    (_, layout) => {
      const made = proposeLayout(all(layout), layout.forms[0]!, layout.rpm)!;
      expect([made.cylinders, made.heads]).toEqual([layout.cylinders, layout.heads]);
      for (let cylinder = 0; cylinder < layout.cylinders; cylinder++)
        for (let head = 0; head < layout.heads; head++) {
          const own = formatAt(made, cylinder, head)!;
          const its = formatAt(layout, cylinder, head)!;
          const numbers = ({ sectors }: typeof own) =>
            sectors.map(({ r, bytes }) => `${r}:${bytes}`).sort();
          expect(numbers(own)).toEqual(numbers(its));
          expect(own.encoding).toBe(its.encoding);
        }
    },
  );

  test('a hurt track is one of its neighbours’ format; the fullest speaks for them', () => {
    const tracks = all(PLAIN).map((track) =>
      track.cylinder === 40 ? { ...track, found: track.found.slice(3) } : track,
    );
    const made = proposeLayout(tracks, '3.5', 300)!;
    expect(made.tracks).toHaveLength(1);
    expect(made.tracks[0]!.sectors).toHaveLength(9);
  });

  test('twice stepped, it has half as many cylinders and says so', () => {
    const made = proposeLayout(all(ZONED, 2), '5.25', 300)!;
    expect([made.cylinders, made.stepping]).toEqual([35, 'double']);
  });

  test('of nothing nothing is made', () => {
    expect(proposeLayout([], null, 300)).toBeNull();
    expect(proposeLayout([EMPTY(0), EMPTY(1)], '3.5', 300)).toBeNull();
  });

  test('rates near a known one are taken for it, others stand as they were measured', () => {
    const rateOf = (times: number) => {
      const tracks = all(PLAIN).map((track) => ({ ...track, turnCells: track.turnCells * times }));
      return proposeLayout(tracks, '3.5', 300)!.tracks[0]!.rateKbps;
    };
    expect([rateOf(1), rateOf(1.02), rateOf(0.98), rateOf(1.5)]).toEqual([250, 250, 250, 375]);
  });

  test('heads that call themselves the other way round are recorded so', () => {
    const swapped = shippedLayout('mfm-35-10x512')!;
    const made = proposeLayout(all(swapped), '3.5', 300)!;
    expect(made.recordedHeads).toEqual(swapped.recordedHeads);
  });
});
