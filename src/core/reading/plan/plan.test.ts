/** The plan of a sitting against made-up disks: everything once, failures again, and an end. */
import { tell } from '@/messages/tell';
import fc from 'fast-check';
import {
  afterCleaning,
  afterReading,
  DEFAULT_POLICY,
  nextStep,
  readingsLeft,
  type PlannedReading,
  type TrackProgress,
} from './plan';

const policy: PlannedReading = {
  range: { from: 0, to: 5, heads: [0, 1], step: 1 },
  ...DEFAULT_POLICY,
};

/** Plays a sitting; `unsound` says how many sectors of a track are unsound at its nth reading. */
function play(
  unsound: (cylinder: number, head: number, tries: number, step: { approach: string }) => number,
  own: PlannedReading = policy,
) {
  const progress = new Map<number, TrackProgress>();
  const steps: {
    cylinder: number;
    head: number;
    pass: number;
    approach: string;
    revolutions: number;
  }[] = [];
  for (let i = 0; i < 1000; i++) {
    const step = nextStep([...progress.values()], own);
    if (step.kind === 'done') return { steps, why: step.why };
    steps.push(step);
    const key = step.cylinder * 2 + step.head;
    const before = progress.get(key) ?? null;
    progress.set(
      key,
      afterReading(
        before,
        step,
        unsound(step.cylinder, step.head, (before?.tries ?? 0) + 1, step),
        step,
      ),
    );
  }
  throw new Error('the plan does not end');
}

test('a clean disk is read once, outermost to innermost', () => {
  const { steps, why } = play(() => 0);
  expect(steps.map(({ cylinder, head }) => cylinder * 2 + head)).toEqual(
    Array.from({ length: 12 }, (_, i) => i),
  );
  expect(steps.every(({ pass, revolutions }) => pass === 1 && revolutions === 2)).toBe(true);
  expect(why).toEqual({ code: 'plan.nothingMoreToRead', with: { left: 0 } });
});

test('what failed is read again after everything was read once, and only that', () => {
  const { steps } = play((cylinder, head, tries) =>
    cylinder === 2 && head === 1 && tries < 3 ? 2 : 0,
  );
  expect(steps.slice(12)).toEqual([
    expect.objectContaining({
      cylinder: 2,
      head: 1,
      pass: 2,
      approach: 'from-inside',
      revolutions: 5,
    }),
    expect.objectContaining({
      cylinder: 2,
      head: 1,
      pass: 3,
      approach: 'beside-outward',
      revolutions: 5,
    }),
  ]);
});

test('a track that gets no better is left after some readings, and said', () => {
  const { steps, why } = play((cylinder) => (cylinder === 4 ? 1 : 0));
  expect(steps).toHaveLength(12 + 2 * policy.patience);
  expect(why).toEqual({ code: 'plan.nothingMoreToRead', with: { left: 2 } });
});

test('it ends whatever the disk does, and never reads a track more often than allowed', () => {
  fc.assert(
    fc.property(fc.func(fc.nat(9)), (unsound) => {
      const { steps } = play((cylinder, head, tries) => unsound(cylinder, head, tries));
      for (let track = 0; track < 12; track++)
        expect(
          steps.filter(({ cylinder, head }) => cylinder * 2 + head === track).length,
        ).toBeLessThanOrEqual(policy.tries);
    }),
    { numRuns: 200 },
  );
});

test('a range leaves out what lies outside it, and steps as the medium was recorded', () => {
  const half: PlannedReading = { ...policy, range: { from: 2, to: 6, heads: [1], step: 2 } };
  const outside = { cylinder: 0, head: 0, tries: 1, unsound: 9, sinceBetter: 0 };
  const progress: TrackProgress[] = [outside];
  const taken: number[][] = [];
  for (let step = nextStep(progress, half); step.kind === 'read'; step = nextStep(progress, half)) {
    taken.push([step.cylinder, step.head]);
    progress.push(afterReading(null, step, 0, step));
  }
  expect(taken).toEqual([
    [2, 1],
    [4, 1],
    [6, 1],
  ]);
  expect(readingsLeft([], { ...half, range: null })).toBe(0);
});

test('readings left count what was not read and what is to be read again', () => {
  expect(readingsLeft([], policy)).toBe(12);
  expect(
    readingsLeft(
      [
        { cylinder: 0, head: 0, tries: 1, unsound: 0, sinceBetter: 0 },
        { cylinder: 0, head: 1, tries: 1, unsound: 2, sinceBetter: 0 },
      ],
      policy,
    ),
  ).toBe(11);
});

test('each reading again differs from the one before; a gentle one never seeks away or stands beside its track', () => {
  // A little better each time, so that none is left early.
  const failing = (cylinder: number, head: number, tries: number) =>
    cylinder === 1 && head === 0 ? 9 - tries : 0;
  const again = play(failing)
    .steps.slice(12)
    .map(({ approach, revolutions }) => [approach, revolutions]);
  expect(again).toEqual([
    ['from-inside', 5],
    ['beside-outward', 5],
    ['beside-inward', 5],
    ['from-outside', 5],
    ['plain', 10],
  ]);
  const gentle = play(failing, { ...policy, gentle: true }).steps.slice(12);
  expect(gentle.every(({ approach }) => approach === 'plain')).toBe(true);
});

test('a sweep outward takes the innermost track first, and reads again in that order', () => {
  const { steps } = play((cylinder, _, tries) => (cylinder > 3 && tries < 2 ? 1 : 0), {
    ...policy,
    sweep: 'outward',
  });
  expect(steps.slice(0, 12).map(({ cylinder, head }) => cylinder * 2 + head)).toEqual(
    Array.from({ length: 12 }, (_, i) => 11 - i),
  );
  expect(steps.slice(12).map(({ cylinder, head }) => cylinder * 2 + head)).toEqual([11, 10, 9, 8]);
});

test('a clean head gives what failed its tries anew, plainly at first', () => {
  const spent: TrackProgress = { cylinder: 0, head: 0, tries: 6, unsound: 2, sinceBetter: 3 };
  const done = Array.from({ length: 11 }, (_, i): TrackProgress => ({
    cylinder: (i + 1) >> 1,
    head: (i + 1) & 1,
    tries: 1,
    unsound: 0,
    sinceBetter: 0,
  }));
  expect(nextStep([spent, ...done], policy).kind).toBe('done');
  const step = nextStep([afterCleaning(spent), ...done.map(afterCleaning)], policy);
  expect(step).toMatchObject({
    kind: 'read',
    cylinder: 0,
    head: 0,
    pass: 7,
    approach: 'plain',
  });
  expect(step.why && tell(step.why)).toBe(
    'Reading cylinder 0, head 0, for the seventh time, with a clean head',
  );
  expect(done.map(afterCleaning)).toEqual(done);
});

test('a way that helped on tracks near a track is tried first on it, and said', () => {
  // Written by a head out of line: only a head that stands further in reads it.
  const large: PlannedReading = { ...policy, range: { from: 0, to: 29, heads: [0], step: 1 } };
  const { steps } = play(
    (_, __, tries, { approach }) => (approach === 'beside-inward' ? 0 : tries > 0 ? 9 : 0),
    large,
  );
  const again = steps.slice(30);
  // One way after the other, as each of them fails; then the one that helped, and nothing else.
  expect(again.slice(0, 3).map(({ approach }) => approach)).toEqual([
    'from-inside',
    'beside-outward',
    'beside-inward',
  ]);
  expect(again.slice(3).every(({ approach }) => approach === 'beside-inward')).toBe(true);
  expect(again).toHaveLength(30 + 2);
  const why = nextStep(
    [
      ...Array.from({ length: 29 }, (_, cylinder) => ({
        cylinder,
        head: 0,
        tries: 2,
        unsound: 0,
        sinceBetter: 0,
        attempts: [{ approach: 'beside-inward' as const, turns: 5, of: 9, gained: 9 }],
      })),
      { cylinder: 29, head: 0, tries: 1, unsound: 2, sinceBetter: 0 },
    ],
    large,
  ).why;
  expect(why).toMatchObject({
    code: 'plan.readingCylinderHeadFor',
    with: { how: { code: 'plan.gaveNear', with: { how: { code: 'plan.aLittleInwardOf' } } } },
  });
});

test('of what a sitting of an earlier version read, nothing is known but how often', () => {
  const before: TrackProgress = { cylinder: 0, head: 0, tries: 2, unsound: 2, sinceBetter: 1 };
  const step = nextStep([before], {
    ...policy,
    range: { from: 0, to: 0, heads: [0], step: 1 },
  });
  expect(step).toMatchObject({ kind: 'read', pass: 3, approach: 'from-inside' });
  expect(
    afterReading(before, before, 1, { approach: 'from-inside', revolutions: 5 }),
  ).toMatchObject({
    tries: 3,
    sinceBetter: 0,
    attempts: [{ approach: 'from-inside', turns: 5, of: 2, gained: 1 }],
  });
});

test('what a dirty head read says nothing of what a clean one will', () => {
  const dirty: TrackProgress = {
    cylinder: 0,
    head: 0,
    tries: 2,
    unsound: 9,
    sinceBetter: 1,
    attempts: [{ approach: 'from-inside', turns: 5, of: 9, gained: 0 }],
  };
  expect(afterCleaning(dirty)).toEqual({
    cylinder: 0,
    head: 0,
    tries: 2,
    unsound: 9,
    sinceBetter: 0,
    triesBefore: 2,
    attempts: [],
  });
});
