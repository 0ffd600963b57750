/**
 * Sounds as machines keep them: recordings with their loops and their pitch, and programs that lay
 * them over keys. Places are counted in frames, pitches in MIDI notes (60 is the middle C) and cents.
 */
import type { Problem } from '../problems';
import type { VolumeEntry } from '../volume/volume';

export const CENTS_A_NOTE = 100;
export const MIDDLE_C = 60;
/** Notes and velocities go from 0 to this. */
export const MOST_VALUE = 127;

export interface SoundLoop {
  /** First frame. */
  startFrame: number;
  /** The frame behind the last. */
  endFrame: number;
  /** What the loop is longer by than whole frames, in 65,536ths of one. */
  fine: number;
  /** Whether it is played until release, whatever its time. */
  hold: boolean;
  timeMs: number;
}

/** What a key that is let go does to a sound. */
export const PLAYBACKS = Object.freeze([
  'loop-through-release',
  'loop-until-release',
  'no-loop',
  'to-the-end',
] as const);
export type Playback = (typeof PLAYBACKS)[number];

/** Of a zone: as its sample has it, or in a way of its own. */
export type LoopMode = 'as-sample' | Playback | 'unknown';

/** A recording: where its frames lie, and how they are meant to sound. */
export interface SoundSample {
  /** Partition, volume and name, as recorded. */
  path: string;
  name: string;
  entry: VolumeEntry;
  /** Bytes of its file before the first frame. */
  headerBytes: number;
  rateHz: number;
  /** Nothing on the medium says so. */
  rateAssumed: boolean;
  /** Null where nothing says which key it was played with. */
  rootNote: number | null;
  /** Raises its pitch where positive. */
  cents: number;
  channels: 1;
  bits: 8 | 16;
  frames: number;
  /** First and last frame that is played, as recorded. */
  start: number;
  end: number;
  loops: SoundLoop[];
  playback: Playback | 'unknown';
  problems: Problem[];
}

/** Keys and velocities over which a sample sounds. */
export interface SoundRegion {
  /** Null where its volume has none of this name. */
  sample: SoundSample | null;
  sampleName: string;
  lowKey: number;
  highKey: number;
  lowVelocity: number;
  highVelocity: number;
  /** Of key group and zone, beside the sample's own. */
  cents: number;
  loop: LoopMode;
  /** In the machine's own units. */
  loudness: number;
  filterOffset: number;
  pan: number;
}

export interface SoundProgram {
  path: string;
  name: string;
  entry: VolumeEntry;
  midiProgram: number;
  regions: SoundRegion[];
  problems: Problem[];
}

/** Sounds that belong together: a volume of a partition, a bank. */
export interface SoundFolder {
  /** Partition and volume, as recorded. */
  path: readonly string[];
  samples: SoundSample[];
  programs: SoundProgram[];
}

/** All sounds of a volume, by its folders, and the problems of files that are none. */
export interface Sounds {
  folders: SoundFolder[];
  problems: Problem[];
}

/** How a region plays its sample: in the zone's own way, or in the sample's. */
export const playbackOf = (
  loop: LoopMode,
  { playback }: Pick<SoundSample, 'playback'>,
): Playback | 'unknown' => (loop === 'as-sample' ? playback : loop);

/** Whether its keys and velocities are in order and are such. */
export const isPlayable = (region: SoundRegion): boolean =>
  region.lowKey <= region.highKey &&
  region.highKey <= MOST_VALUE &&
  region.lowVelocity <= region.highVelocity &&
  region.highVelocity <= MOST_VALUE;

interface Playing<S> {
  name: string;
  regions: readonly { sample: S | null }[];
}

/** Names of the programs that play a sample, which is told by whatever stands for it in them. */
export const playersOf = <S>(programs: readonly Playing<S>[], sample: S): string[] =>
  programs
    .filter(({ regions }) => regions.some((region) => region.sample === sample))
    .map(({ name }) => name);

/** Bytes of one frame. */
export const frameBytesOf = ({ bits, channels }: Pick<SoundSample, 'bits' | 'channels'>): number =>
  (bits / 8) * channels;

/** The frames of a sample as its file holds them, piece by piece. */
export async function* framesOf<E extends { bytes: number }>(
  volume: { stream(entry: E): AsyncIterable<Uint8Array> },
  sample: Omit<SoundSample, 'entry'> & { entry: E },
): AsyncGenerator<Uint8Array> {
  const { entry, headerBytes, frames } = sample;
  let before = headerBytes;
  const bytes = headerBytes + frames * frameBytesOf(sample);
  for await (const piece of volume.stream({ ...entry, bytes })) {
    const skipped = Math.min(before, piece.length);
    before -= skipped;
    if (skipped < piece.length) yield piece.subarray(skipped);
  }
}
