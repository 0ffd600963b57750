/**
 * Puts a sound into a bank of a wavesample floppy: behind its waves, or in the place of one. Nothing
 * else of the image changes; a zero would stop the sound, so that none is written.
 */
import { seededRandom } from '@/core/bits/random';
import { said, type Said } from '@/core/said';
import {
  BANKS,
  LEAST,
  WAVESAMPLE_BYTES,
  bankOf,
  placeOfWave,
  setBank,
  wavesOf,
} from '../../volume/wavesample/banks';
import { toEightBit } from '../eight-bit';
import { monoOf, valuesOf } from '../pcm';
import { framesAt, resample } from '../signal/resample';
import { SoundRefusal, remarksOnTheWay, type SoundFile } from '../sound-file';
import { WAVESAMPLE_RATE } from './wavesample-sounds';

const EIGHT_BITS = 8;

export interface PutAsked {
  /** As it is called: `lower 1` or `lower-1`. */
  bank: string;
  /** Counted from one; behind the last where there is none. */
  wave: number | null;
  rateHz: number;
}

interface WavePut {
  /** The image with the sound in it. */
  image: Uint8Array;
  /** Number of the wave, and where it lies among the bank's samples. */
  wave: number;
  from: number;
  to: number;
  isResampled: boolean;
}

const isEightBit = ({ coding }: SoundFile): boolean =>
  coding.kind === 'linear' && coding.bytes === 1 && !coding.signed;

/**
 * The bytes of a sound for a bank, 8 bits, unsigned, without a zero: as they are where it is of 8
 * bits, mono, and at the bank's rate.
 */
function bankBytesOf(sound: SoundFile, rateHz: number): Uint8Array {
  if (isEightBit(sound) && sound.channels === 1 && sound.rateHz === rateHz)
    return sound.data.map((value) => Math.max(LEAST, value));
  const mono = monoOf(valuesOf(sound.data, sound.coding), sound.channels);
  const random = sound.bits > EIGHT_BITS ? seededRandom('dither') : null;
  return toEightBit(resample(mono, sound.rateHz, rateHz), random, LEAST);
}

/**
 * A sound as a wave of a bank, with what became of it on its way. Throws `SoundRefusal` where it
 * holds no frame.
 */
export function waveFile(
  sound: SoundFile,
  rateHz = WAVESAMPLE_RATE,
): { file: Uint8Array; remarks: Said[] } {
  const remarks = remarksOnTheWay(sound, rateHz);
  if (sound.loops.length > 0) remarks.push(said('sound.wavesHaveNoLoops'));
  const file = bankBytesOf(sound, rateHz);
  if (file.length === 0) throw new SoundRefusal(said('sound.holdsNoFrame'));
  return { file, remarks };
}

/** Throws `SoundRefusal` where the bank or the wave is not there, or the sound does not fit. */
export function putWave(image: Uint8Array, sound: SoundFile, asked: PutAsked): WavePut {
  if (image.length !== WAVESAMPLE_BYTES)
    throw new SoundRefusal(said('sound.isNoWavesampleImage', { bytes: image.length }));
  const bank = BANKS.findIndex((name) => name === asked.bank.trim().replaceAll(' ', '-'));
  if (bank < 0)
    throw new SoundRefusal(said('sound.thereIsNoBank', { bank: asked.bank, banks: [...BANKS] }));
  const own = bankOf(image, bank);
  const waves = wavesOf(own);
  const number = asked.wave ?? waves.length + 1;
  const place = placeOfWave(waves, number);
  if (!place)
    throw new SoundRefusal(said('sound.bankHasNoSuchWave', { wave: number, waves: waves.length }));
  const { from, until } = place;
  const frames = framesAt(sound.frames, sound.rateHz, asked.rateHz);
  if (frames === 0) throw new SoundRefusal(said('sound.holdsNoFrame'));
  if (from + frames > until)
    throw new SoundRefusal(said('sound.doesNotFit', { frames, room: Math.max(0, until - from) }));
  const there = waves[number - 1];
  if (there) own.fill(0, ...there);
  own.set(bankBytesOf(sound, asked.rateHz), from);
  const changed = image.slice();
  setBank(changed, bank, own);
  const isResampled = sound.rateHz !== asked.rateHz;
  return { image: changed, wave: number, from, to: from + frames, isResampled };
}
