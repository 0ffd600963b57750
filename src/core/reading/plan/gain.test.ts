/** What another reading would bring: by what it brought on a track and near it. */
import fc from 'fast-check';
import { bestWay, costOf, expectedGains, type Attempt, type Tried, type Way } from './gain';

const inside: Way = { approach: 'from-inside', turns: 5, usually: 0.34 };
const outward: Way = { approach: 'beside-outward', turns: 5, usually: 0.3 };
const longer: Way = { approach: 'plain', turns: 10, usually: 0.45 };
const WAYS = [inside, outward, longer];

const attempt = ({ approach, turns }: Way, gained: number, of: number): Attempt => ({
  approach,
  turns,
  of,
  gained,
});
const track = (cylinder: number, head = 0, ...attempts: Attempt[]): Tried => ({
  cylinder,
  head,
  attempts,
});
const shareOf = (own: Tried, all: readonly Tried[], way: Way): number =>
  expectedGains(own, all, [way])[0]!.share;

test('as long as nothing is known it is what is usual', () => {
  const own = track(10);
  expect(expectedGains(own, [own], WAYS).map(({ share }) => share)).toEqual(
    WAYS.map(({ usually }) => usually),
  );
  expect(expectedGains({ cylinder: 1, head: 0 }, [], WAYS)).toHaveLength(3);
});

test('the mean of the prior and of what was tried, by weight', () => {
  // Six sectors of the prior; eight of the track itself, each as much as four of a neighbour's.
  const own = track(10, 0, attempt(inside, 2, 8));
  expect(shareOf(own, [own], inside)).toBeCloseTo((0.34 * 6 + 4 * 2) / (6 + 4 * 8), 10);
  const six = track(16, 0, attempt(inside, 9, 9));
  expect(shareOf(track(10), [six], inside)).toBeCloseTo(
    (0.34 * 6 + 9 / Math.E) / (6 + 9 / Math.E),
    10,
  );
  const otherSide = track(16, 1, attempt(inside, 9, 9));
  expect(shareOf(track(10), [otherSide], inside)).toBeCloseTo(
    (0.34 * 6 + 4.5 / Math.E) / (6 + 4.5 / Math.E),
    10,
  );
});

test('another approach, or another number of turns, is another way', () => {
  const own = track(3, 0, attempt(inside, 0, 9), attempt({ ...inside, turns: 7 }, 9, 9));
  expect(shareOf(own, [own], outward)).toBe(outward.usually);
  expect(shareOf(own, [own], inside)).toBeLessThan(0.1);
});

test('what is far off says nothing', () => {
  const far = track(70, 0, attempt(inside, 9, 9));
  const [expected] = expectedGains(track(10), [far], [inside]);
  expect(expected).toEqual({ way: inside, share: inside.usually, nearGained: 0, nearOf: 0 });
});

test('neighbours that it helped are counted apart from the track itself', () => {
  const own = track(10, 0, attempt(inside, 1, 3));
  const all = [own, track(11, 0, attempt(inside, 4, 5)), track(9, 1, attempt(inside, 2, 2))];
  expect(expectedGains(own, all, [inside])[0]).toMatchObject({ nearGained: 6, nearOf: 7 });
});

test('more turns have to be worth their time', () => {
  expect([costOf(inside), costOf(outward), costOf(longer)]).toEqual([6, 5.5, 10.5]);
  const own = track(10);
  expect(bestWay(own, [own], WAYS).way).toBe(inside);
  const helped = [own, track(11, 0, attempt(longer, 9, 9), attempt(inside, 0, 9))];
  expect(bestWay(own, helped, WAYS).way).toBe(longer);
});

const someTracks = fc.array(
  fc.record({
    cylinder: fc.nat(83),
    head: fc.nat(1),
    attempts: fc.array(
      fc
        .tuple(fc.constantFrom(...WAYS), fc.nat(26), fc.nat(26))
        .map(([way, a, b]) => attempt(way, Math.min(a, b), Math.max(a, b))),
      { maxLength: 6 },
    ),
  }),
  { maxLength: 40 },
);

test('a share is one whatever was tried, and a failure never makes it larger', () => {
  fc.assert(
    fc.property(someTracks, fc.nat(83), fc.constantFrom(...WAYS), (all, cylinder, way) => {
      const before = shareOf(track(cylinder), all, way);
      expect(before).toBeGreaterThan(0);
      expect(before).toBeLessThanOrEqual(1);
      const failed = [...all, track(cylinder, 0, attempt(way, 0, 9))];
      expect(shareOf(track(cylinder), failed, way)).toBeLessThan(before);
    }),
  );
});
