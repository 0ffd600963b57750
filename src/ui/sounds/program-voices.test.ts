/** What sounds at a key of a program, and at what pitch. */
import { listedProgram, listedRegion } from '../../../tests/support/sound/listed-program';
import { KeyVoices, pitchOf, soundsAt, type ListedRegion } from './program-voices';
import type { Heard, ListedSample } from './sound-source';

const region = listedRegion;
const program = listedProgram;
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

describe('a key that is pressed and let go', () => {
  const HEARD = {} as Heard;
  /** What the player is asked, in order, of a program whose one sample has this playback. */
  function keys(playback: ListedSample['playback'], loop: ListedRegion['loop'] = 'as-sample') {
    const asked: string[] = [];
    const player = {
      play: (_: Heard, { name, isLooped }: { name: string; isLooped: boolean }) =>
        asked.push(`play ${name}${isLooped ? ' looped' : ''}`),
      stop: (name: string) => asked.push(`stop ${name}`),
      playOut: (name: string) => asked.push(`play out ${name}`),
    };
    const sample = { rootNote: 60, cents: 0, playback } as ListedSample;
    let arrives: () => void = () => undefined;
    const load = () => new Promise<Heard>((resolve) => (arrives = () => resolve(HEARD)));
    const voices = new KeyVoices(player, program(region({ loop })), new Map([[1, sample]]), load);
    return { voices, asked, arrive: () => arrives() };
  }

  test.each([
    ['loop-through-release', 'as-sample', ['play key 45 0 looped', 'stop key 45 0']],
    ['loop-until-release', 'as-sample', ['play key 45 0 looped', 'play out key 45 0']],
    ['no-loop', 'as-sample', ['play key 45 0', 'stop key 45 0']],
    ['to-the-end', 'as-sample', ['play key 45 0']],
    ['no-loop', 'to-the-end', ['play key 45 0']],
  ] as const)('of %s, %s', async (playback, loop, wanted) => {
    const { voices, asked, arrive } = keys(playback, loop);
    const begun = voices.press(45, 100);
    arrive();
    await begun;
    voices.release(45);
    expect(asked).toEqual(wanted);
  });

  test('before its sample is there goes on no longer', async () => {
    const { voices, asked, arrive } = keys('loop-through-release');
    const begun = voices.press(45, 100);
    voices.release(45);
    arrive();
    await begun;
    expect(asked).toEqual(['play key 45 0 looped', 'stop key 45 0']);
  });

  test('does not begin where the program was left meanwhile', async () => {
    const { voices, asked, arrive } = keys('loop-through-release');
    const begun = voices.press(45, 100);
    voices.leave();
    arrive();
    await begun;
    expect(asked).toEqual([]);
  });
});
