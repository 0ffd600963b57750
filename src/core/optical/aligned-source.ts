/**
 * A raw image with its sectors in step: where bytes were cut from it or came in between, the next
 * sync (ECMA-130, clause 14.1) says where sectors go on, and the address behind it which one it is.
 */
import { placedSource, sliceSource, type ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import type { CueSheet } from './cue';
import { isRaw } from './disc-tracks';
import { hasSync, headerOf, LAST_ADDRESS, SYNC_BYTES } from './sector-header';
import { RAW_BYTES } from './scramble';
import { said } from '@/core/said';

/**
 * Looks at the step all over a file, and sectors from one to the next at the least: a break is seen
 * by all looks behind it, until another makes up for it. The last sector is looked at too.
 */
const LOOKS = 512;
const LEAST_APART = 32;
/** Places of a file at which sectors are looked for. */
const PLACES = 16;
/** More breaks than this are no image of a disc. */
const MOST_BREAKS = 4096;
/** An image of a whole disc begins with its first sectors: at the most so many of them are lost. */
const MOST_LOST_AT_START = 1000;
/** Bytes looked through at a time. */
const SCANNED = 1 << 20;

/** Sectors that lie one behind the other in the file. */
interface Run {
  /** The first one's number in the image in step, and its byte in the file. */
  first: number;
  offset: number;
  sectors: number;
}

/** The image in step; the source itself where it is so already. */
export async function alignedSource<T extends ByteSource>(
  source: T,
): Promise<{ source: T; problems: Problem[] }> {
  const runs = await new StepFinder(source).runs();
  const [only] = runs;
  const tail = source.size % RAW_BYTES;
  if (runs.length <= 1 && (only?.offset ?? 0) === 0 && (only?.first ?? 0) === 0)
    return { source, problems: tail > 0 && only ? [endsWithin(source.size, tail)] : [] };
  return { source: { ...source, ...inStep(source, runs) }, problems: breaksOf(runs, source.size) };
}

const endsWithin = (size: number, tail: number): Problem => ({
  kind: 'truncated-image',
  offset: size - tail,
  said: said('optical.endsWithinASector', { bytes: tail }),
});

/** What is told of each break: bytes too many in the sector before it, or too few. */
function breaksOf(runs: readonly Run[], size: number): Problem[] {
  const problems = runs.flatMap(({ first, offset }, i): Problem[] => {
    const before = runs[i - 1] ?? { first: 0, offset: 0 };
    const off = offset - before.offset - (first - before.first) * RAW_BYTES;
    if (off === 0) return [];
    const words =
      off > 0
        ? said('optical.bytesTooMany', { bytes: off, first })
        : said('optical.bytesTooFew', { bytes: -off, first });
    return [{ kind: 'sectors-out-of-step', offset, said: words }];
  });
  const last = runs.at(-1)!;
  const tail = size - last.offset - last.sectors * RAW_BYTES;
  return tail > 0 ? [...problems, endsWithin(size, tail)] : problems;
}

/** Zeros where no run has a sector; what is left of a cut last one stays. */
function inStep(source: ByteSource, runs: readonly Run[]): ByteSource {
  const last = runs.at(-1)!;
  const parts = runs.map((run) => ({
    at: run.first * RAW_BYTES,
    source: sliceSource(source, run.offset, run === last ? source.size : run.sectors * RAW_BYTES),
  }));
  return placedSource(last.first * RAW_BYTES + source.size - last.offset, parts);
}

/** The least of a file that is looked at to see whether it is raw sectors: two, and the next sync. */
const HEAD = 3 * RAW_BYTES;

/** Whether sectors with syncs lie in a file, wherever one looks first. */
export async function looksRaw(source: ByteSource): Promise<boolean> {
  for (let place = 0; place < PLACES; place++) {
    const at = Math.floor((place * source.size) / PLACES);
    const bytes = await source.read(at, HEAD);
    for (let i = syncIn(bytes, 0); i >= 0; i = syncIn(bytes, i + 1)) {
      const next = i + RAW_BYTES;
      const isLast = at + next + SYNC_BYTES > source.size;
      if (isLast || hasSync(bytes.subarray(next, next + SYNC_BYTES))) return true;
    }
  }
  return false;
}

/** Sound has no syncs to be in step by: of it only a cut end is told. */
async function inStepAsNeeded<T extends ByteSource>(
  { tracks, files }: CueSheet,
  file: number,
  source: T,
): Promise<{ source: T; problems: Problem[] }> {
  const types = tracks.filter((track) => track.file === file).map(({ type }) => type);
  if (types.some(isRaw)) return alignedSource(source);
  const isSound = types.length > 0 && types.every((type) => type === 'AUDIO');
  const tail = source.size % RAW_BYTES;
  const isCut = isSound && files[file]?.type !== 'WAVE' && tail > 0;
  return { source, problems: isCut ? [endsWithin(source.size, tail)] : [] };
}

/** The files of a disc that hold raw sectors in step; what was out of it joins its problems. */
export async function alignedDisc<T extends ByteSource>(
  sheet: CueSheet,
  sources: readonly T[],
): Promise<{ sheet: CueSheet; sources: T[] }> {
  const problems = [...sheet.problems];
  const aligned: T[] = [];
  for (const [file, source] of sources.entries()) {
    const own = await inStepAsNeeded(sheet, file, source);
    aligned.push(own.source);
    problems.push(...own.problems);
  }
  return { sheet: { ...sheet, problems }, sources: aligned };
}

/** How sectors lie in a file: by looks at the step, and, where one fails, at each sync. */
class StepFinder {
  private readonly apart: number;

  constructor(private readonly source: ByteSource) {
    this.apart = Math.max(LEAST_APART, Math.floor(source.size / RAW_BYTES / LOOKS));
  }

  /** One run where everything is in step, or nothing has a sync. */
  async runs(): Promise<Run[]> {
    const runs: Run[] = [];
    let run: Run = { first: 0, offset: 0, sectors: 0 };
    let known: number | null = null;
    for (let sector = 0, last = this.lastOf(run); sector <= last;) {
      const at = run.offset + sector * RAW_BYTES;
      const isInStep = await this.isSync(at);
      if (isInStep) known = sector;
      const next: number | null =
        isInStep || runs.length >= MOST_BREAKS || !(await this.leavesStep(at))
          ? null
          : await this.firstOutOfStep(run.offset, known ?? 0, at + 2 * RAW_BYTES);
      if (next === null) {
        sector = sector < last ? Math.min(last, sector + this.apart) : last + 1;
        continue;
      }
      const first: number = await this.numberOf(next, run, known);
      const whole = Math.ceil((next - run.offset) / RAW_BYTES);
      runs.push({ ...run, sectors: Math.min(first - run.first, whole) });
      run = { first, offset: next, sectors: 0 };
      [sector, known, last] = [0, null, this.lastOf(run)];
    }
    return [...runs, { ...run, sectors: this.lastOf(run) + 1 }].filter(
      ({ sectors }) => sectors > 0,
    );
  }

  /** The number in its run of the last sector that the file can hold. */
  private lastOf({ offset }: Run): number {
    return Math.floor((this.source.size - offset) / RAW_BYTES) - 1;
  }

  private async isSync(at: number): Promise<boolean> {
    const bytes = await this.source.read(at, SYNC_BYTES);
    return bytes.length === SYNC_BYTES && hasSync(bytes);
  }

  /** Whether a sector begins soon behind this place, and in another step. */
  private async leavesStep(at: number): Promise<boolean> {
    const bytes = await this.source.read(at, 3 * RAW_BYTES);
    for (let i = syncIn(bytes, 0); i >= 0; i = syncIn(bytes, i + 1))
      if (i % RAW_BYTES !== 0 && (await this.isFollowed(at + i))) return true;
    return false;
  }

  /** Whether a sector's length on is another sync, or the file ends. */
  private async isFollowed(at: number): Promise<boolean> {
    const next = at + RAW_BYTES;
    return next + SYNC_BYTES > this.source.size || this.isSync(next);
  }

  /** The first sync behind a sector of a run that is in another step than it. */
  private async firstOutOfStep(base: number, known: number, to: number): Promise<number | null> {
    for (let from = base + known * RAW_BYTES; from < to; from += SCANNED) {
      const bytes = await this.source.read(from, SCANNED + SYNC_BYTES - 1);
      for (let i = syncIn(bytes, 0); i >= 0; i = syncIn(bytes, i + 1)) {
        const at = from + i;
        if ((at - base) % RAW_BYTES !== 0 && (await this.isFollowed(at))) return at;
      }
    }
    return null;
  }

  /**
   * The number of the sector at a place, behind the sector of a run that is `known`: by the addresses
   * of both, where the next bears its own out; else by the bytes between.
   */
  private async numberOf(next: number, run: Run, known: number | null): Promise<number> {
    const own = await this.addressAt(next);
    const isBorneOut = own !== null && (await this.addressAt(next + RAW_BYTES)) === own + 1;
    const isEarly = own !== null && own >= 0 && own < MOST_LOST_AT_START;
    if (isBorneOut && known === null && run.first === 0 && isEarly) return own;
    const before = known === null ? null : await this.addressAt(run.offset + known * RAW_BYTES);
    if (isBorneOut && known !== null && before !== null && own > before && own <= LAST_ADDRESS)
      return run.first + known + own - before;
    const least = known === null ? run.first : run.first + known + 1;
    return Math.max(least, run.first + Math.round((next - run.offset) / RAW_BYTES));
  }

  private async addressAt(at: number): Promise<number | null> {
    return headerOf(await this.source.read(at, RAW_BYTES))?.address ?? null;
  }
}

/** Where a sync begins, at `from` or behind it; −1 where none does. Of its ten FFh one is on the way. */
function syncIn(bytes: Uint8Array, from: number): number {
  for (let i = from + 1; i + SYNC_BYTES - 1 <= bytes.length; i += SYNC_BYTES - 2) {
    if (bytes[i] !== 0xff) continue;
    let start = i;
    while (start >= from && bytes[start] === 0xff && i - start < SYNC_BYTES) start--;
    if (start >= from && hasSync(bytes.subarray(start, start + SYNC_BYTES))) return start;
  }
  return -1;
}
