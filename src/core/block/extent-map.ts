/**
 * What is known of every block of a device, as runs of blocks that are alike: a disc of millions
 * of blocks is a few
 * extents while it reads well, and as many as it needs where it does not. Blocks are numbered
 * from 0.
 */
import { emptyTally, isSound, type Grade, type Tally } from '../reading/grades';

/**
 * How long blocks took against what is usual on this device: as usual, eight times that, sixty-four
 * times.
 */
export const PACES = Object.freeze([0, 1, 2] as const);
export type Pace = (typeof PACES)[number];

export interface BlockKnowledge {
  grade: Grade;
  /** Times the block itself was asked for: of a sound one, until it came; of another, in vain. */
  tries: number;
  /**
   * Of an unread block: blocks of the smallest request that failed with it; 0 where it was never
   * asked for.
   */
  group: number;
  pace: Pace;
}

export interface Extent extends BlockKnowledge {
  from: number;
  /** The first block behind it. */
  to: number;
}

/** An unread block that was passed over, and is in no failed request yet. */
export const PASSED_OVER = 2 ** 31;

export const NOTHING_KNOWN: BlockKnowledge = Object.freeze({
  grade: 'unread',
  tries: 0,
  group: 0,
  pace: 0,
});

const alike = (a: BlockKnowledge, b: BlockKnowledge) =>
  a.grade === b.grade && a.tries === b.tries && a.group === b.group && a.pace === b.pace;

/** Puts a stretch behind those that are known, and joins it to the last where both are alike. */
function append(list: Extent[], start: number, end: number, known: BlockKnowledge): void {
  if (start >= end) return;
  const { grade, tries, group, pace } = known;
  const before = list[list.length - 1];
  if (before && alike(before, { grade, tries, group, pace })) before.to = end;
  else list.push({ from: start, to: end, grade, tries, group, pace });
}

export class ExtentMap {
  private list: Extent[];
  private readonly counts: Tally = emptyTally();
  /** Extents that came or went since the last look, by their first block. */
  private changes = new Map<number, Extent | null>();

  /**
   * A device of `blocks` blocks of which nothing is known, or what `extents` say, in any order.
   * Throws RangeError where they do not fit it.
   */
  constructor(
    readonly blocks: number,
    extents: readonly Extent[] = [],
  ) {
    if (!Number.isSafeInteger(blocks) || blocks < 0)
      throw new RangeError(`a device of ${blocks} blocks`);
    this.list = [];
    let at = 0;
    for (const extent of [...extents].sort((a, b) => a.from - b.from)) {
      if (extent.from < at || extent.to <= extent.from || extent.to > blocks)
        throw new RangeError(
          `extent ${extent.from}–${extent.to} does not fit a device of ${blocks} blocks ` +
            `behind ${at}`,
        );
      if (extent.from > at) this.list.push({ from: at, to: extent.from, ...NOTHING_KNOWN });
      this.list.push({ ...extent });
      at = extent.to;
    }
    if (at < blocks) this.list.push({ from: at, to: blocks, ...NOTHING_KNOWN });
    for (const { from, to, grade } of this.list) this.counts[grade] += to - from;
  }

  /** All extents in order, without a gap. */
  extents(): readonly Readonly<Extent>[] {
    return this.list;
  }

  /** Blocks by grade. */
  tally(): Tally {
    return { ...this.counts };
  }

  /**
   * Index of the extent that holds a block; as many as there are extents for one behind the last.
   */
  indexAt(block: number): number {
    let [low, high] = [0, this.list.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.list[middle]!.to <= block) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  at(block: number): Readonly<Extent> | null {
    return this.list[this.indexAt(block)] ?? null;
  }

  /** Changes what is known of the blocks [from, to). */
  update(from: number, to: number, change: (known: Readonly<Extent>) => BlockKnowledge): void {
    if (from < 0 || to > this.blocks)
      throw new RangeError(`blocks ${from}–${to} of ${this.blocks}`);
    if (from >= to) return;
    const first = this.indexAt(from);
    const last = this.indexAt(to - 1);
    // The neighbours are taken in, so that what becomes alike is joined.
    const [low, high] = [Math.max(0, first - 1), Math.min(this.list.length - 1, last + 1)];
    const fresh: Extent[] = [];
    const add = (start: number, end: number, known: BlockKnowledge) =>
      append(fresh, start, end, known);
    for (let i = low; i <= high; i++) {
      const each = this.list[i]!;
      const [start, end] = [Math.max(each.from, from), Math.min(each.to, to)];
      if (start >= end) {
        add(each.from, each.to, each);
        continue;
      }
      const changed = change(each);
      this.counts[each.grade] -= end - start;
      this.counts[changed.grade] += end - start;
      add(each.from, start, each);
      add(start, end, changed);
      add(end, each.to, each);
    }
    for (let i = low; i <= high; i++) this.changes.set(this.list[i]!.from, null);
    for (const each of fresh) this.changes.set(each.from, each);
    this.list.splice(low, high - low + 1, ...fresh);
  }

  /**
   * What changed since the last call, for who keeps the map elsewhere: extents that went, by their
   * first block, and those that came.
   */
  takeChanges(): { gone: number[]; came: Extent[] } {
    const gone: number[] = [];
    const came: Extent[] = [];
    for (const [from, extent] of this.changes) {
      if (extent) came.push({ ...extent });
      else gone.push(from);
    }
    this.changes = new Map();
    return { gone, came };
  }
}

/** Blocks in [from, to) that are still to be read. */
export function unreadBlocks(map: ExtentMap, from: number, to: number): number {
  const list = map.extents();
  let count = 0;
  for (let i = map.indexAt(from); i < list.length && list[i]!.from < to; i++)
    if (list[i]!.grade === 'unread')
      count += Math.min(to, list[i]!.to) - Math.max(from, list[i]!.from);
  return count;
}

/** Runs of blocks in [from, to) whose bytes are not sound, whatever was tried. */
export function unsoundRuns(
  map: ExtentMap,
  from = 0,
  to = map.blocks,
): { from: number; to: number }[] {
  const runs: { from: number; to: number }[] = [];
  const list = map.extents();
  for (let i = map.indexAt(from); i < list.length && list[i]!.from < to; i++) {
    const each = list[i]!;
    if (isSound(each.grade)) continue;
    const [start, end] = [Math.max(each.from, from), Math.min(each.to, to)];
    const before = runs[runs.length - 1];
    if (before?.to === start) before.to = end;
    else runs.push({ from: start, to: end });
  }
  return runs;
}
