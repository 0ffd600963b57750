/** A file of sound as it was read: its frames as they are coded, and what it says beside them. */
import { said, type Said } from '@/core/said';
import type { PcmCoding } from './pcm';

export interface FileLoop {
  /** First frame, and the one behind the last. */
  startFrame: number;
  endFrame: number;
}

export interface SoundFile {
  format: 'wav' | 'aiff' | '8svx' | 'au';
  rateHz: number;
  channels: number;
  /** Bits of a value that count. */
  bits: number;
  coding: PcmCoding;
  frames: number;
  /** Whole frames, channel after channel in each. */
  data: Uint8Array;
  loops: FileLoop[];
  /** Note at which it sounds as recorded, in cents from note 0; null where it does not say. */
  soundsAt: number | null;
  /** What of it is odd, and what was left. */
  remarks: Said[];
}

/** How the names of such files end, in small letters; a pattern that PostgreSQL takes as well. */
export const SOUND_NAMES = String.raw`\.(wav|aiff?|aifc|8svx|svx|iff|au|snd)$`;
const ENDS_AS_SOUND = new RegExp(SOUND_NAMES);

export const isSoundName = (path: string): boolean => ENDS_AS_SOUND.test(path.toLowerCase());

/** A file that can't be read as sound, and why. */
export class SoundRefusal extends Error {
  constructor(readonly said: Said) {
    super(said.code);
  }
}

/** What a sound said of itself, and what becomes of it where it is put: one channel, at this rate. */
export function remarksOnTheWay(sound: SoundFile, rateHz: number): Said[] {
  const { channels, rateHz: from } = sound;
  return [
    ...sound.remarks,
    ...(channels > 1 ? [said('sound.isMixedToOne', { channels })] : []),
    ...(from !== rateHz ? [said('sound.isBroughtToRate', { from, to: rateHz })] : []),
  ];
}
