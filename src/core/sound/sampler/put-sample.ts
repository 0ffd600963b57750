/**
 * A sound put into a volume of a sampler disk as a sample file: a new one, or in the place of one
 * whose name, and so every program that plays it, stays. What the sound does not say is taken from
 * the one that it replaces.
 */
import { seededRandom } from '@/core/bits/random';
import { said, type Said } from '@/core/said';
import { numberIn, putNumber } from '../../volume/record';
import {
  FILE_HEADER,
  FILE_MARK,
  HOLD_MS,
  LOOP,
  LOOP_FIELDS,
  LOOP_TABLE,
  MOST_LOOPS,
  SAMPLE_HEADER,
  VALID,
  nameBytes,
} from '../../volume/sampler/records';
import { WritableSampler } from '../../volume/sampler/write';
import { monoOf, valuesOf } from '../pcm';
import { resample } from '../signal/resample';
import { toSixteenBit } from '../sixteen-bit';
import { CENTS_A_NOTE, MIDDLE_C, MOST_VALUE, PLAYBACKS } from '../sound';
import { SoundRefusal, remarksOnTheWay, type FileLoop, type SoundFile } from '../sound-file';

/** What the field for a rate can hold, and what is taken where it can't. */
const MOST_RATE = 0xffff;
const USUAL_RATE = 44_100;
/** Rate codes: 0 stands for the lower half. */
const UPPER_HALF = 33_000;
const BITS = 16;
const LOOPED = PLAYBACKS.indexOf('loop-through-release');
const NOT_LOOPED = PLAYBACKS.indexOf('no-loop');

interface SamplePlace {
  /** Partition and volume: `A/FOG SIGNALS`. */
  volume: string;
  /** As it is wished; the nearest that may stand is taken. */
  name: string;
}

interface SamplePut {
  path: string;
  frames: number;
  isReplaced: boolean;
  /** What became of it on its way. */
  remarks: Said[];
}

/** Its frames as the volume keeps them, and at which rate. */
function framesFor(sound: SoundFile): { pcm: Uint8Array; rateHz: number } {
  const { channels, bits, coding, data } = sound;
  const rateHz = sound.rateHz > MOST_RATE ? USUAL_RATE : sound.rateHz;
  const isResampled = rateHz !== sound.rateHz;
  const losesBits = bits > BITS || (bits > 8 && (channels > 1 || isResampled));
  const random = losesBits ? seededRandom('dither') : null;
  const values = resample(monoOf(valuesOf(data, coding), channels), sound.rateHz, rateHz);
  return { pcm: toSixteenBit(values, random), rateHz };
}

/** Loops at another rate, those that a header has no room for left out. */
function loopsFor(sound: SoundFile, rateHz: number, frames: number, remarks: Said[]): FileLoop[] {
  const at = (frame: number) => Math.min(frames, Math.round((frame * rateHz) / sound.rateHz));
  const loops = sound.loops
    .map(({ startFrame, endFrame }) => ({ startFrame: at(startFrame), endFrame: at(endFrame) }))
    .filter(({ startFrame, endFrame }) => startFrame < endFrame);
  if (loops.length > MOST_LOOPS)
    remarks.push(said('sound.moreLoopsThanFit', { left: loops.length - MOST_LOOPS }));
  return loops.slice(0, MOST_LOOPS);
}

function putLoops(header: Uint8Array, loops: readonly FileLoop[]): void {
  header.fill(0, LOOP_TABLE, LOOP_TABLE + MOST_LOOPS * LOOP);
  for (const [i, { startFrame, endFrame }] of loops.entries()) {
    const at = LOOP_TABLE + i * LOOP;
    putNumber(header, LOOP_FIELDS.loopEnd, endFrame, at);
    putNumber(header, LOOP_FIELDS.coarseLength, endFrame - startFrame, at);
    putNumber(header, LOOP_FIELDS.timeInMs, HOLD_MS, at);
  }
  putNumber(header, SAMPLE_HEADER.loops, loops.length);
  const playback = numberIn(header, SAMPLE_HEADER.playback);
  const isLooped = playback < NOT_LOOPED;
  if (isLooped !== loops.length > 0)
    putNumber(header, SAMPLE_HEADER.playback, loops.length > 0 ? LOOPED : NOT_LOOPED);
}

/** Leaves of the loops that are there those that lie in so many frames. */
function keepLoops(header: Uint8Array, frames: number, remarks: Said[]): void {
  const counted = Math.min(MOST_LOOPS, numberIn(header, SAMPLE_HEADER.loops));
  const places = Array.from({ length: counted }, (_, i) => LOOP_TABLE + i * LOOP);
  const fitting = places.filter((at) => numberIn(header, LOOP_FIELDS.loopEnd, at) <= frames);
  const kept = fitting.map((at) => header.slice(at, at + LOOP));
  if (kept.length === counted) return;
  remarks.push(said('sound.loopsLieNowhere', { count: counted - kept.length }));
  header.fill(0, LOOP_TABLE, LOOP_TABLE + MOST_LOOPS * LOOP);
  for (const [i, loop] of kept.entries()) header.set(loop, LOOP_TABLE + i * LOOP);
  putNumber(header, SAMPLE_HEADER.loops, kept.length);
  if (kept.length === 0) putNumber(header, SAMPLE_HEADER.playback, NOT_LOOPED);
}

/** Its note, and what tunes it to that: in cents from note 0 it sounds at `soundsAt` as recorded. */
function putPitch(header: Uint8Array, soundsAt: number): void {
  const note = Math.max(0, Math.min(MOST_VALUE, Math.round(soundsAt / CENTS_A_NOTE)));
  const tuning = Math.round(CENTS_A_NOTE * note - soundsAt);
  const semitones = Math.trunc(tuning / CENTS_A_NOTE);
  putNumber(header, SAMPLE_HEADER.rootNote, note);
  putNumber(header, SAMPLE_HEADER.semitones, semitones);
  putNumber(header, SAMPLE_HEADER.cents, tuning - CENTS_A_NOTE * semitones);
}

function blankHeader(): Uint8Array {
  const header = new Uint8Array(FILE_HEADER.usual);
  putNumber(header, SAMPLE_HEADER.kind, FILE_MARK.sample);
  putNumber(header, SAMPLE_HEADER.playback, NOT_LOOPED);
  header[SAMPLE_HEADER.isValid.at] = VALID;
  putPitch(header, CENTS_A_NOTE * MIDDLE_C);
  return header;
}

/** The header of the sample that is there; null where none is. */
function headerOf(file: Uint8Array | null, isLarger: boolean): Uint8Array | null {
  const bytes = isLarger ? FILE_HEADER.larger : FILE_HEADER.usual;
  if (!file || file[0] !== FILE_MARK.sample || file.length < bytes) return null;
  return file.slice(0, bytes);
}

interface SampleFile {
  file: Uint8Array;
  frames: number;
  /** What is odd of the sound, and what became of it on its way. */
  remarks: Said[];
}

/**
 * A sound as a sample file. What it does not say is taken from `before`, the header of the sample that
 * it replaces. Throws `SoundRefusal` where it holds no frame.
 */
export function sampleFile(
  sound: SoundFile,
  name: string,
  before: Uint8Array | null = null,
): SampleFile {
  const { pcm, rateHz } = framesFor(sound);
  const remarks = remarksOnTheWay(sound, rateHz);
  const frames = pcm.length / 2;
  if (frames === 0) throw new SoundRefusal(said('sound.holdsNoFrame'));
  const header = before ?? blankHeader();
  header.set(nameBytes(name), SAMPLE_HEADER.name.at);
  putNumber(header, SAMPLE_HEADER.rateCode, rateHz < UPPER_HALF ? 0 : 1);
  putNumber(header, SAMPLE_HEADER.rateInHz, rateHz);
  putNumber(header, SAMPLE_HEADER.samples, frames);
  putNumber(header, SAMPLE_HEADER.start, 0);
  putNumber(header, SAMPLE_HEADER.end, frames - 1);
  if (sound.soundsAt !== null) putPitch(header, sound.soundsAt);
  // A sound that says its pitch says its loops too, though it have none.
  if (!before || sound.soundsAt !== null || sound.loops.length > 0)
    putLoops(header, loopsFor(sound, rateHz, frames, remarks));
  else keepLoops(header, frames, remarks);
  const file = new Uint8Array(header.length + pcm.length);
  file.set(header);
  file.set(pcm, header.length);
  return { file, frames, remarks };
}

/**
 * Puts a sound into the image, in place. Throws `SoundRefusal` where it holds no frame or what is
 * there is no sample, `VolumeRefusal` where the disk can't take it; the image is as it was then.
 */
export function putSample(
  image: Uint8Array,
  sound: SoundFile,
  { volume: folder, name: wished }: SamplePlace,
): SamplePut {
  const volume = new WritableSampler(image);
  const name = volume.refuseName(wished) ? volume.suggestName(wished) : wished;
  const path = `${folder}/${name}`;
  const there = volume.read(path);
  const before = headerOf(there, volume.hasLargerHeader(path));
  if (there && !before) throw new SoundRefusal(said('sound.isNoSample', { path }));
  const { file, frames, remarks } = sampleFile(sound, name, before);
  volume.put(path, file, { type: 's' });
  return { path, frames, isReplaced: before !== null, remarks };
}
