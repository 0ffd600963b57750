import {
  cleaningDue,
  confirmsDirt,
  leavesDirt,
  detectDirtyHead,
  confirmDirtyHead,
} from './head-care';

const tracks = (count: number, unsound: number, sectors = 9) =>
  Array.from({ length: count }, () => ({ unsound, sectors }));

test('the rule: so many readings, or one medium that sheds', () => {
  expect(cleaningDue({ readings: 3999, shedding: 0 })).toBeNull();
  expect(cleaningDue({ readings: 4000, shedding: 0 })).toMatchObject({ with: { readings: 4000 } });
  expect(cleaningDue({ readings: 10, shedding: 1 })).toMatchObject({
    code: 'plan.aMediumThatSheds',
  });
  expect([leavesDirt(['scratches', 'warped']), leavesDirt(['scratches', 'mould'])]).toEqual([
    false,
    true,
  ]);
});

test('a head that goes blind is suspected; single bad tracks, a disk bad from the start and an empty end are not', () => {
  expect(detectDirtyHead([...tracks(20, 0), ...tracks(8, 4)])).toBe(true);
  expect(detectDirtyHead([...tracks(20, 0), ...tracks(6, 4)])).toBe(false);
  expect(detectDirtyHead([...tracks(40, 0), ...tracks(3, 9), ...tracks(5, 0)])).toBe(false);
  expect(detectDirtyHead(tracks(60, 5))).toBe(false);
  expect(detectDirtyHead([...tracks(60, 0), ...tracks(20, 0, 0)])).toBe(false);
  // Dropouts of one sector a track, as a scratch leaves them.
  expect(detectDirtyHead([...tracks(60, 0), ...tracks(20, 1)])).toBe(false);
});

test('the control reading tells a dirty head from a bad disk', () => {
  expect(confirmsDirt({ unsound: 0, sectors: 9 })).toBe(false);
  expect(confirmsDirt({ unsound: 3, sectors: 9 })).toBe(true);
  expect(confirmsDirt({ unsound: 0, sectors: 0 })).toBe(true);
});

test('reading again in vain is suspicious after six times in a row', () => {
  const vain = Array<boolean>(6).fill(false);
  expect([
    confirmDirtyHead(vain.slice(1)),
    confirmDirtyHead(vain),
    confirmDirtyHead([true, ...vain]),
    confirmDirtyHead([...vain, true]),
  ]).toEqual([false, true, true, false]);
});
