/**
 * Sample files of sampler volumes: a header of 150 or 192 bytes and signed frames of 16 bits, least
 * byte first. What can't be so is told; nothing that a header says is trusted beyond its file.
 */
import { said, type Said } from '@/core/said';
import type { Problem, ProblemKind } from '../../problems';
import { bytesIn, numberIn, signedIn } from '../../volume/record';
import {
  FILE_HEADER,
  FILE_MARK,
  HOLD_MS,
  LARGER,
  LOOP,
  LOOP_FIELDS,
  LOOP_TABLE,
  MOST_LOOPS,
  SAMPLE_HEADER,
  VALID,
} from '../../volume/sampler/records';
import type { VolumeEntry } from '../../volume/volume';
import { CENTS_A_NOTE, MOST_VALUE, PLAYBACKS, type SoundLoop, type SoundSample } from '../sound';

const BYTES_A_FRAME = 2;
/** By rate code, where the header gives no rate in hertz. */
const RATES: readonly number[] = Object.freeze([22_050, 44_100]);
const USUAL_RATE = 44_100;

/** Bytes of the header of a file of sound, and of each key group, by its directory entry. */
export const headerBytesOf = ({ typeCode = 0 }: VolumeEntry): number =>
  typeCode & LARGER ? FILE_HEADER.larger : FILE_HEADER.usual;

/** Notes problems of one file. */
export class FileProblems {
  readonly list: Problem[] = [];

  constructor(private readonly entry: VolumeEntry) {}

  tell(kind: ProblemKind, what: Said): void {
    this.list.push({ kind, said: what, offset: this.entry.extents[0]?.offset ?? null });
  }
}

/**
 * A sample by the header of its file, of which `bytesThere` are in the image; null where not even the
 * header is.
 */
export function sampleOf(
  entry: VolumeEntry,
  path: string,
  header: Uint8Array,
  bytesThere: number,
): SoundSample | null {
  const headerBytes = headerBytesOf(entry);
  if (header.length < headerBytes) return null;
  const problems = new FileProblems(entry);
  const recorded = numberIn(header, SAMPLE_HEADER.samples);
  const there = Math.max(0, Math.floor((bytesThere - headerBytes) / BYTES_A_FRAME));
  const frames = Math.min(recorded, there);
  if (there < recorded)
    problems.tell('sample-cut', said('sound.holdsFewerFrames', { path, there, recorded }));
  tellOddHeader(header, path, problems);
  const start = numberIn(header, SAMPLE_HEADER.start);
  const end = numberIn(header, SAMPLE_HEADER.end);
  if (frames > 0 && (start > end || end >= frames))
    problems.tell('bad-range', said('sound.isPlayedBeyondItself', { path, start, end, frames }));
  const { rateHz, rateAssumed } = rateOf(header);
  const { cents, semitones } = SAMPLE_HEADER;
  return {
    path,
    name: entry.recordedName,
    entry,
    headerBytes,
    rateHz,
    rateAssumed,
    rootNote: numberIn(header, SAMPLE_HEADER.rootNote),
    cents: CENTS_A_NOTE * signedIn(header, semitones) + signedIn(header, cents),
    channels: 1,
    bits: 16,
    frames,
    start,
    end,
    loops: loopsOf(header, path, frames, problems),
    playback: PLAYBACKS[numberIn(header, SAMPLE_HEADER.playback)] ?? 'unknown',
    problems: problems.list,
  };
}

function rateOf(header: Uint8Array): Pick<SoundSample, 'rateHz' | 'rateAssumed'> {
  const rateHz = numberIn(header, SAMPLE_HEADER.rateInHz);
  if (rateHz > 0) return { rateHz, rateAssumed: false };
  const code = numberIn(header, SAMPLE_HEADER.rateCode);
  return { rateHz: RATES[code] ?? USUAL_RATE, rateAssumed: true };
}

function tellOddHeader(header: Uint8Array, path: string, problems: FileProblems): void {
  const odd = (what: Said) => problems.tell('sound-header-odd', what);
  const mark = numberIn(header, SAMPLE_HEADER.kind);
  if (mark !== FILE_MARK.sample) odd(said('sound.beginsOtherwise', { path, mark }));
  if (bytesIn(header, SAMPLE_HEADER.isValid)[0] !== VALID)
    odd(said('sound.isNotMarkedValid', { path }));
  const code = numberIn(header, SAMPLE_HEADER.rateCode);
  const saysRate = numberIn(header, SAMPLE_HEADER.rateInHz) > 0;
  if (!saysRate && !RATES[code]) odd(said('sound.hasNoSuchRate', { path, code }));
  const note = numberIn(header, SAMPLE_HEADER.rootNote);
  if (note > MOST_VALUE) odd(said('sound.hasNoSuchNote', { path, note }));
  const playback = numberIn(header, SAMPLE_HEADER.playback);
  if (!PLAYBACKS[playback]) odd(said('sound.hasNoSuchPlayback', { path, playback }));
}

/** As many as the header counts, less those that lie nowhere in the sample. */
function loopsOf(
  header: Uint8Array,
  path: string,
  frames: number,
  problems: FileProblems,
): SoundLoop[] {
  const counted = numberIn(header, SAMPLE_HEADER.loops);
  if (counted > MOST_LOOPS)
    problems.tell('bad-loop', said('sound.countsTooManyLoops', { path, counted }));
  const loops: SoundLoop[] = [];
  for (let i = 0; i < Math.min(counted, MOST_LOOPS); i++) {
    const at = LOOP_TABLE + i * LOOP;
    const endFrame = numberIn(header, LOOP_FIELDS.loopEnd, at);
    const length = numberIn(header, LOOP_FIELDS.coarseLength, at);
    const timeMs = numberIn(header, LOOP_FIELDS.timeInMs, at);
    if (length === 0 || length > endFrame || endFrame > frames) {
      const its = { path, loop: i + 1, length, end: endFrame, frames };
      problems.tell('bad-loop', said('sound.loopLiesNowhere', its));
      continue;
    }
    loops.push({
      startFrame: endFrame - length,
      endFrame,
      fine: numberIn(header, LOOP_FIELDS.fineLength, at),
      hold: timeMs === HOLD_MS,
      timeMs,
    });
  }
  return loops;
}
