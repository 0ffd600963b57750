/**
 * A sample as a WAV: its frames as they are, and in a `smpl` chunk its pitch and its loops
 * (Multimedia Programming Interface 1.0, and the chunk's own public note of 1994).
 */
import { said, type Said } from '@/core/said';
import {
  CENTS_A_NOTE,
  MIDDLE_C,
  MOST_VALUE,
  frameBytesOf,
  framesOf,
  type SoundLoop,
  type SoundSample,
} from '../sound';
import { wavHeader } from './header';

const SMPL_BYTES = 36;
const LOOP_BYTES = 24;
const CHUNK_HEAD = 8;
const NANOSECONDS = 1e9;
const WHOLE_NOTE = 2 ** 32;
/** A fine length counts 65,536ths of a frame, a loop's fraction 2⁻³². */
const FINE_TO_FRACTION = 65_536;

/** Where its frames lie does not matter here. */
type WavSample = Omit<SoundSample, 'entry'>;

export interface SampleWav {
  /** Before the frames, and behind them. */
  head: Uint8Array;
  tail: Uint8Array;
  notCarried: Said[];
}

/** The note at which a recording sounds as recorded, in cents from note 0. */
const soundsAt = ({ rootNote, cents }: WavSample): number =>
  CENTS_A_NOTE * (rootNote ?? MIDDLE_C) - cents;

/** That note as `smpl` has it: a note, and what is above it in 2⁻³² of a note. */
function unityOf(sample: WavSample): { unity: number; fraction: number } {
  const at = soundsAt(sample);
  const unity = Math.floor(at / CENTS_A_NOTE);
  if (unity < 0) return { unity: 0, fraction: 0 };
  if (unity > MOST_VALUE) return { unity: MOST_VALUE, fraction: 0 };
  const above = at - unity * CENTS_A_NOTE;
  return { unity, fraction: Math.round((above * WHOLE_NOTE) / CENTS_A_NOTE) };
}

/** How often a loop is played that is left after a time: 0 stands for without end. */
function playCountOf({ startFrame, endFrame, hold, timeMs }: SoundLoop, rateHz: number): number {
  if (hold) return 0;
  return Math.max(1, Math.round((timeMs * rateHz) / (1000 * (endFrame - startFrame))));
}

export function sampleWav(sample: WavSample): SampleWav {
  const dataBytes = sample.frames * frameBytesOf(sample);
  const smpl = smplChunk(sample);
  const padding = dataBytes % 2;
  const tail = new Uint8Array(padding + smpl.length);
  tail.set(smpl, padding);
  const { channels, rateHz, bits } = sample;
  const head = wavHeader(dataBytes, { channels, rate: rateHz, bits }, tail.length);
  return { head, tail, notCarried: lostInWav(sample) };
}

/** All of a sample's WAV as it is streamed, and how many bytes that is. */
export function streamedWav<E extends { bytes: number }>(
  volume: Parameters<typeof framesOf<E>>[0],
  sample: WavSample & { entry: E },
): { bytes: number; parts: AsyncGenerator<Uint8Array> } {
  const { head, tail } = sampleWav(sample);
  async function* parts() {
    yield head;
    yield* framesOf(volume, sample);
    yield tail;
  }
  const bytes = head.length + sample.frames * frameBytesOf(sample) + tail.length;
  return { bytes, parts: parts() };
}

function smplChunk(sample: WavSample): Uint8Array {
  const { rateHz, loops } = sample;
  const bytes = SMPL_BYTES + LOOP_BYTES * loops.length;
  const chunk = new Uint8Array(CHUNK_HEAD + bytes);
  chunk.set([0x73, 0x6d, 0x70, 0x6c]); // smpl
  const view = new DataView(chunk.buffer);
  const put = (at: number, value: number) => view.setUint32(at, value, true);
  const { unity, fraction } = unityOf(sample);
  put(4, bytes);
  put(CHUNK_HEAD + 0x08, Math.round(NANOSECONDS / rateHz));
  put(CHUNK_HEAD + 0x0c, unity);
  put(CHUNK_HEAD + 0x10, fraction);
  put(CHUNK_HEAD + 0x1c, loops.length);
  for (const [i, loop] of loops.entries()) {
    const at = CHUNK_HEAD + SMPL_BYTES + i * LOOP_BYTES;
    put(at, i);
    put(at + 0x08, loop.startFrame);
    put(at + 0x0c, loop.endFrame - 1);
    put(at + 0x10, loop.fine * FINE_TO_FRACTION);
    put(at + 0x14, playCountOf(loop, rateHz));
  }
  return chunk;
}

function lostInWav(sample: WavSample): Said[] {
  const { name, loops, playback, start, end, frames } = sample;
  const timed = loops.flatMap(({ hold, timeMs }, i) =>
    hold ? [] : [said('sound.timedLoopIsApproximate', { name, loop: i + 1, timeMs })],
  );
  const unity = Math.floor(soundsAt(sample) / CENTS_A_NOTE);
  const isClamped = unity < 0 || unity > MOST_VALUE;
  const isPartPlayed = frames > 0 && (start !== 0 || end !== frames - 1);
  const loopsOtherwise = loops.length > 0 && playback !== 'loop-through-release';
  return [
    ...timed,
    ...(isClamped ? [said('sound.pitchIsClamped', { name })] : []),
    ...(isPartPlayed ? [said('sound.playedPartIsNotInWav', { start, end })] : []),
    ...(loopsOtherwise ? [said('sound.playbackIsNotInWav', { playback })] : []),
  ];
}
