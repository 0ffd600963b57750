/** Which samples of a program sound at a key and a velocity, at what pitch, and until when. */
import { CENTS_A_NOTE, MIDDLE_C, MOST_VALUE, playbackOf, type Playback } from '@/core/sound/sound';
import { heardSample, type ListedSample } from './sound-source';
import type { Pitch, Player } from './player';
import type { Sounds } from '../data/queries';

export type ListedProgram = Sounds['volumes'][number]['folders'][number]['programs'][number];
export type ListedRegion = ListedProgram['regions'][number];

const MOST_PAN = 50;

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
  cents: CENTS_A_NOTE * (key - (sample.rootNote ?? MIDDLE_C)) + sample.cents + cents,
  loudness: velocity / MOST_VALUE,
  pan: Math.max(-1, Math.min(1, pan / MOST_PAN)),
});

const isLooped = (playback: Playback | 'unknown'): boolean =>
  playback === 'loop-through-release' || playback === 'loop-until-release';

interface Pressed {
  isHeld: boolean;
  /** The program was left: what is not there yet is not begun. */
  isLeft: boolean;
  /** Voices that it began, and what letting it go does to each. */
  voices: Map<string, Playback | 'unknown'>;
}

type Speaker = Pick<Player, 'play' | 'stop' | 'playOut'>;

/** The keys of a program, of which each begins its voices and lets them go. */
export class KeyVoices {
  private readonly pressed = new Map<number, Pressed>();

  constructor(
    private readonly player: Speaker,
    private readonly program: ListedProgram,
    private readonly samples: ReadonlyMap<number, ListedSample>,
    private readonly load: typeof heardSample = heardSample,
  ) {}

  /** Ends when all that sounds at the key has begun; rejects where one can't be fetched. */
  async press(key: number, velocity: number): Promise<void> {
    this.release(key);
    const pressed: Pressed = { isHeld: true, isLeft: false, voices: new Map() };
    this.pressed.set(key, pressed);
    const regions = soundsAt(this.program, key, velocity);
    await Promise.all(
      regions.map(async (region, i) => {
        const sample = this.samples.get(region.sample!);
        if (!sample) return;
        const heard = await this.load(sample);
        if (pressed.isLeft) return;
        const playback = playbackOf(region.loop, sample);
        const name = `key ${key} ${i}`;
        pressed.voices.set(name, playback);
        const pitch = pitchOf(region, sample, key, velocity);
        this.player.play(heard, { name, isLooped: isLooped(playback), pitch });
        // Let go before its sample was there.
        if (!pressed.isHeld) this.letGo(name, playback);
      }),
    );
  }

  release(key: number): void {
    const pressed = this.pressed.get(key);
    if (!pressed) return;
    this.pressed.delete(key);
    pressed.isHeld = false;
    for (const [name, playback] of pressed.voices) this.letGo(name, playback);
  }

  /** Lets all keys go, for good. */
  leave(): void {
    for (const [key, pressed] of this.pressed) {
      pressed.isLeft = true;
      this.release(key);
    }
  }

  private letGo(name: string, playback: Playback | 'unknown'): void {
    if (playback === 'to-the-end') return;
    if (playback === 'loop-until-release') this.player.playOut(name);
    else this.player.stop(name);
  }
}
