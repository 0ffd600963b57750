/** What sounds at a key of a program, and at what pitch. */
import { pitchOf, soundsAt, type ListedProgram, type ListedRegion } from './program-voices';

const region = (over: Partial<ListedRegion> = {}): ListedRegion => ({
  sample: 1,
  sampleName: 'HORN',
  lowKey: 40,
  highKey: 50,
  lowVelocity: 0,
  highVelocity: 127,
  cents: 0,
  loop: 'as-sample',
  loudness: 0,
  filterOffset: 0,
  pan: 0,
  ...over,
});
const program = (...regions: ListedRegion[]): ListedProgram => ({
  path: 'A/FOG/MOLE',
  name: 'MOLE',
  position: 0,
  midiProgram: 0,
  regions,
  problems: [],
});
const names = (regions: readonly ListedRegion[]) => regions.map(({ sampleName }) => sampleName);

test.each([
  [39, 64, []],
  [40, 64, ['SOFT', 'BOTH']],
  [50, 100, ['HARD', 'BOTH']],
  [51, 100, []],
])('at key %d and velocity %d sounds %j', (key, velocity, wanted) => {
  const zones = program(
    region({ sampleName: 'SOFT', highVelocity: 90 }),
    region({ sampleName: 'HARD', lowVelocity: 91 }),
    region({ sampleName: 'BOTH' }),
    region({ sampleName: 'GONE', sample: null }),
  );
  expect(names(soundsAt(zones, key, velocity))).toEqual(wanted);
});

test.each([
  [60, 60, 0, 0, 0],
  [72, 60, 0, 0, 1200],
  [60, 61, 50, -7, -57],
  [60, null, 0, 25, 25],
])('key %d of a root of %p, tuned %d and %d, is %d cents off', (key, rootNote, own, zone, wanted) =>
  expect(pitchOf(region({ cents: zone }), { rootNote, cents: own }, key, 127).cents).toBe(wanted),
);

test('pan and loudness stay within what a voice can have', () => {
  const { pan, loudness } = pitchOf(region({ pan: 99 }), { rootNote: 60, cents: 0 }, 60, 127);
  expect([pan, loudness]).toEqual([1, 1]);
});
