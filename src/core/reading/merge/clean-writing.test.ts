/** What a drive wrote is told from what the medium lost, by its times. */
import fc from 'fast-check';
import { seededRandom } from '@/core/bits/random';
import type { PlacedSighting } from '../track-sector';
import { isWrittenCleanly, worstOff, type FieldTimes } from './clean-writing';

const CELL = 48;

/** A field of runs of two to four cells, its transitions off by what `off` says, in cells. */
function field(seed: string, off: (i: number) => number): FieldTimes {
  const random = seededRandom(seed);
  let place = 0;
  const times = Float64Array.from({ length: 200 }, (_, i) => {
    if (i > 0) place += 2 + random.below(3);
    return 1000 + (place + off(i)) * CELL;
  });
  return { times, cellTicks: CELL };
}

test('the worst interval, by the mean of the turns', () => {
  expect(worstOff([])).toBeNull();
  expect(worstOff([field('a', () => 0)])).toBeCloseTo(0, 9);
  expect(worstOff([field('a', (i) => (i === 50 ? 0.4 : 0))])).toBeCloseTo(0.4, 9);
  const apart = [0.3, -0.3].map((off) => field('a', (i) => (i === 50 ? off : 0)));
  expect(worstOff(apart)).toBeCloseTo(0, 9);
});

test('turns of unlike counts are no readings of one writing', () => {
  const one = field('a', () => 0);
  expect(worstOff([one, { ...one, times: one.times.subarray(1) }])).toBeNull();
});

test('a place that every turn has off is found under any noise that differs', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 198 }), fc.string({ maxLength: 8 }), (at, seed) => {
      const turns = [0, 1, 2, 3].map((turn) => {
        const random = seededRandom(`${seed} ${turn}`);
        return field(seed, (i) => (i === at ? 0.4 : 0) + 0.05 * (random.next() - 0.5));
      });
      expect(worstOff(turns)!).toBeGreaterThan(0.33);
    }),
    { numRuns: 40 },
  );
});

describe('beside what the track holds else', () => {
  const placed = (seed: string, off: number): PlacedSighting =>
    ({ seed, off }) as unknown as PlacedSighting;
  const timesOf = (each: PlacedSighting) => {
    const { seed, off } = each as unknown as { seed: string; off: number };
    return field(seed, (i) => (i === 90 ? off : 0));
  };
  const others = (off: number) => ['x', 'y', 'z'].map((seed) => [placed(seed, off)]);

  test.each([
    ['alone, as good as any', 0.1, [], true],
    ['alone, too far off', 0.3, [], false],
    ['as good as its neighbours', 0.3, others(0.28), true],
    ['worse than its neighbours', 0.3, others(0.15), false],
    ['beside one that is hurt as well', 0.3, [...others(0.05), [placed('h', 0.45)]], false],
  ])('%s', (_, off, sound, isClean) => {
    expect(isWrittenCleanly([placed('own', off)], sound, timesOf)).toBe(isClean);
  });

  test('a field that no turn of a drive shows is not called clean', () => {
    expect(isWrittenCleanly([placed('own', 0)], others(0), () => null)).toBe(false);
  });
});
