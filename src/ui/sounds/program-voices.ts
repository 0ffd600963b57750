/** Which samples of a program sound at a key and a velocity, and at what pitch. */
import { heardSample, type ListedSample } from './sound-source';
import type { Pitch, Player } from './player';
import type { Sounds } from '../data/queries';

export type ListedProgram = Sounds['volumes'][number]['folders'][number]['programs'][number];
export type ListedRegion = ListedProgram['regions'][number];

const CENTS_A_KEY = 100;
const MOST_PAN = 50;
const MOST_VELOCITY = 127;

export const soundsAt = (
  { regions }: ListedProgram,
  key: number,
  velocity: number,
): ListedRegion[] =>
  regions.filter(
    ({ lowKey, highKey, lowVelocity, highVelocity, sample }) =>
      sample !== null &&
      key >= lowKey &&
      key <= highKey &&
      velocity >= lowVelocity &&
      velocity <= highVelocity,
  );

/** Step = 2^((100 × (k − root) + sample's cents + region's cents) / 1200), as the machine plays it. */
export const pitchOf = (
  { cents, pan }: ListedRegion,
  sample: Pick<ListedSample, 'rootNote' | 'cents'>,
  key: number,
  velocity: number,
): Pitch => ({
  cents: CENTS_A_KEY * (key - (sample.rootNote ?? 60)) + sample.cents + cents,
  loudness: velocity / MOST_VELOCITY,
  pan: Math.max(-1, Math.min(1, pan / MOST_PAN)),
});

const LOOPED = ['loop-through-release', 'loop-until-release'];

/** Plays all that sounds at a key; its voices are named for it. */
export async function playKey(
  player: Player,
  program: ListedProgram,
  samples: ReadonlyMap<number, ListedSample>,
  { key, velocity }: { key: number; velocity: number },
): Promise<void> {
  for (const [i, region] of soundsAt(program, key, velocity).entries()) {
    const sample = samples.get(region.sample!);
    if (!sample || sample.file === null) continue;
    const playback = region.loop === 'as-sample' ? sample.playback : region.loop;
    const heard = await heardSample(sample);
    player.play(heard, {
      name: `key ${key} ${i}`,
      isLooped: LOOPED.includes(playback),
      pitch: pitchOf(region, sample, key, velocity),
    });
  }
}

const MOST_ZONES = 8;

/** What plays to its end whatever the key does goes on. */
export function releaseKey(player: Player, program: ListedProgram, key: number): void {
  const plays = program.regions.filter(({ lowKey, highKey }) => key >= lowKey && key <= highKey);
  if (plays.length > 0 && plays.every(({ loop }) => loop === 'to-the-end')) return;
  for (let i = 0; i < MOST_ZONES; i++) player.stop(`key ${key} ${i}`);
}
