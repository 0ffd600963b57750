/** What a request to a block device came to, folded into what is known of its blocks. */
import { hasPreEmphasis } from '../optical/disc-tracks';
import fc from 'fast-check';
import { applyOutcome, type BlockOutcome } from './apply-outcome';
import { describeMedium, isRawDisc, type BlockMedium } from './device';
import { discTracks } from './disc-tracks';
import { ExtentMap, PASSED_OVER, type Extent } from './extent-map';

const read = (from: number, count: number) =>
  ({ kind: 'read', from, count }) as unknown as Parameters<typeof applyOutcome>[1];
const outcome = (got: number, more: Partial<BlockOutcome> = {}): BlockOutcome => ({
  got,
  toldWhere: false,
  pace: 0,
  ...more,
});
const runs = (map: ExtentMap) =>
  map.extents().map(({ from, to, grade, tries, group }) => [from, to, grade, tries, group]);

test('blocks that came are firm the first time, and mended once they were asked for in vain', () => {
  const map = new ExtentMap(100);
  applyOutcome(map, read(0, 50), outcome(50));
  applyOutcome(map, read(50, 1), outcome(0));
  applyOutcome(map, read(50, 1), outcome(1));
  expect(runs(map)).toEqual([
    [0, 50, 'firm', 1, 0],
    [50, 51, 'mended', 2, 0],
    [51, 100, 'unread', 0, 0],
  ]);
});

test('a device that says where it stopped loses one block; one that does not leaves all in doubt', () => {
  const told = new ExtentMap(100);
  applyOutcome(told, read(0, 64), outcome(10, { toldWhere: true }));
  expect(runs(told)).toEqual([
    [0, 10, 'firm', 1, 0],
    [10, 11, 'lost', 1, 0],
    [11, 100, 'unread', 0, 0],
  ]);
  const silent = new ExtentMap(100);
  applyOutcome(silent, read(0, 64), outcome(10));
  expect(runs(silent)).toEqual([
    [0, 10, 'firm', 1, 0],
    [10, 64, 'unread', 0, 54],
    [64, 100, 'unread', 0, 0],
  ]);
});

test('the smallest request that failed with a block is kept', () => {
  const map = new ExtentMap(64);
  applyOutcome(map, read(0, 64), outcome(0));
  applyOutcome(map, read(16, 8), outcome(0));
  applyOutcome(map, read(8, 32), outcome(0));
  expect(runs(map).map(([from, to, , , group]) => [from, to, group])).toEqual([
    [0, 8, 64],
    [8, 16, 32],
    [16, 24, 8],
    [24, 40, 32],
    [40, 64, 64],
  ]);
});

test('blocks that fail their own check or were corrected are told apart', () => {
  const map = new ExtentMap(10);
  applyOutcome(map, read(0, 10), outcome(10, { wrongCheck: [2, 7], corrected: [5] }));
  expect(runs(map).map(([from, to, grade]) => [from, to, grade])).toEqual([
    [0, 2, 'firm'],
    [2, 3, 'doubtful'],
    [3, 5, 'firm'],
    [5, 6, 'mended'],
    [6, 7, 'firm'],
    [7, 8, 'doubtful'],
    [8, 10, 'firm'],
  ]);
  // A doubtful block that does not come the next time stays doubtful: its bytes are kept.
  applyOutcome(map, read(2, 1), outcome(0));
  expect(runs(map)[1]).toEqual([2, 3, 'doubtful', 2, 0]);
});

test('what is passed over is marked so, and nothing is known of a request that gave no answer', () => {
  const map = new ExtentMap(10);
  applyOutcome(map, { kind: 'pass-over', from: 4, count: 2 } as never, null);
  applyOutcome(map, read(0, 4), null);
  expect(runs(map)).toEqual([
    [0, 4, 'unread', 0, 0],
    [4, 6, 'unread', 0, PASSED_OVER],
    [6, 10, 'unread', 0, 0],
  ]);
});

test('no outcome makes a sound block worse, or leaves a gap or a block out of the count', () =>
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          from: fc.nat(90),
          count: fc.integer({ min: 1, max: 10 }),
          got: fc.nat(12),
          toldWhere: fc.boolean(),
          wrong: fc.nat(9),
        }),
        { maxLength: 30 },
      ),
      (steps) => {
        const map = new ExtentMap(100);
        const isSound = () => {
          const sound = new Set<number>();
          for (const { from, to, grade } of map.extents())
            if (grade === 'firm' || grade === 'mended')
              for (let block = from; block < to; block++) sound.add(block);
          return sound;
        };
        for (const { from, count, got, toldWhere, wrong } of steps) {
          const before = isSound();
          const wrongCheck = wrong < Math.min(got, count) ? [wrong] : [];
          applyOutcome(map, read(from, count), outcome(got, { toldWhere, wrongCheck }));
          const after = isSound();
          for (const block of before) expect(after.has(block)).toBe(true);
          const list = map.extents() as Extent[];
          expect(list[0]!.from).toBe(0);
          list.forEach((extent, i) => expect(extent.to).toBe(list[i + 1]?.from ?? 100));
          const tally = map.tally();
          expect(Object.values(tally).reduce((sum, each) => sum + each, 0)).toBe(100);
          expect(tally.firm + tally.mended).toBe(after.size);
        }
      },
    ),
  ));

const medium = (more: Partial<BlockMedium>): BlockMedium => ({
  kind: 'cd',
  model: '',
  serial: '',
  blockBytes: 2352,
  blocks: 1000,
  geometry: null,
  layers: [],
  tracks: [],
  health: null,
  ...more,
});

test('tracks of a disc reach to the next, and the last to the end', () => {
  const tracks = discTracks(
    medium({
      tracks: [
        { number: 1, mode: 'mode1', start: 0 },
        { number: 2, mode: 'audio', start: 400, flags: ['PRE'] },
        { number: 3, mode: 'mode2', start: 700 },
      ],
    }),
  );
  expect(
    tracks.map(({ number, type, startLba, sectors }) => [number, type, startLba, sectors]),
  ).toEqual([
    [1, 'MODE1/2352', 0, 400],
    [2, 'AUDIO', 400, 300],
    [3, 'MODE2/2352', 700, 300],
  ]);
  expect(tracks.map(hasPreEmphasis)).toEqual([false, true, false]);
});

test.each([
  [
    { tracks: [{ number: 1, mode: 'audio' as const, start: 0 }] },
    'block.cdTracks',
    { tracks: 1, isMixed: false },
  ],
  [
    {
      tracks: [
        { number: 1, mode: 'mode1' as const, start: 0 },
        { number: 2, mode: 'audio' as const, start: 9 },
      ],
    },
    'block.cdTracks',
    { tracks: 2, isMixed: true },
  ],
  [{ kind: 'dvd' as const, layers: [1, 2] }, 'block.dvd', { layers: 2 }],
  [{ kind: 'optical-disc' as const }, 'forms.optical-disc', undefined],
  [{ kind: 'hard-disk' as const }, 'forms.hard-disk', undefined],
  [
    { kind: 'hard-disk' as const, geometry: { cylinders: 615, heads: 4, sectors: 17 } },
    'block.hardDisk',
    { cylinders: 615, heads: 4, sectors: 17 },
  ],
])('%j is described by %s', (more, code, told) => {
  const said = describeMedium(medium(more)) as { code: string; with?: unknown };
  expect([said.code, said.with]).toEqual([code, told]);
});

test('only a CD read in whole sectors is raw', () => {
  expect(isRawDisc(medium({}))).toBe(true);
  expect(isRawDisc(medium({ blockBytes: 2048 }))).toBe(false);
  expect(isRawDisc(medium({ kind: 'dvd', blockBytes: 2352 }))).toBe(false);
});
