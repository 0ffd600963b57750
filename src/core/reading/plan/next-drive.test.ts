/** Which drive is likeliest to give what another left. */
import { expectedOfDrives, type DriveAttempt } from './next-drive';

const slow = { station: 4, rpm: 300 };
const fast = { station: 1, rpm: 360 };
const other = { station: 2, rpm: 360 };
const attempt = (station: number, gained: number, of: number, isSame = false): DriveAttempt => ({
  station,
  isSame,
  of,
  gained,
});

test('as long as nothing is known, a slower drive goes first and the same one last', () => {
  const expected = expectedOfDrives(fast, [fast, other, slow], []);
  expect(expected.map(({ station }) => station)).toEqual([4, 2, 1]);
  expect(expected.map(({ isSlower }) => isSlower)).toEqual([true, false, false]);
  expect(expected.map(({ isSame }) => isSame)).toEqual([false, false, true]);
});

test('what drives gave weighs more than what is usual', () => {
  const attempts = [attempt(2, 40, 50), attempt(4, 1, 50), attempt(1, 0, 30, true)];
  const [best, next, last] = expectedOfDrives(fast, [fast, other, slow], attempts);
  expect(best).toMatchObject({ station: 2, of: 50, gained: 40 });
  expect(best!.share).toBeCloseTo((0.3 * 12 + 40) / 62, 10);
  expect(next!.station).toBe(4);
  expect(last!.share).toBeLessThan(0.05);
});

test('reading again in the same drive says nothing of reading for another', () => {
  const [only] = expectedOfDrives(fast, [other], [attempt(2, 50, 50, true)]);
  expect(only).toMatchObject({ share: 0.3, of: 0 });
});

test('one medium of thousands of sectors does not decide alone', () => {
  const few = Array.from({ length: 10 }, () => attempt(2, 18, 20));
  const [alone] = expectedOfDrives(fast, [other], [attempt(2, 0, 9000)]);
  const [both] = expectedOfDrives(fast, [other], [...few, attempt(2, 0, 9000)]);
  expect(alone!.share).toBeCloseTo(3.6 / 72, 10);
  expect(both!.share).toBeGreaterThan(0.6);
});

test('a share lies between 0 and 1, whatever was counted', () => {
  for (const [gained, of] of [
    [0, 0],
    [5, 5],
    [0, 1e6],
    [1e6, 1e6],
  ] as const) {
    const { share } = expectedOfDrives(fast, [other], [attempt(2, gained, of)])[0]!;
    expect(share).toBeGreaterThan(0);
    expect(share).toBeLessThan(1);
  }
});
