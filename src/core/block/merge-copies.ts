/**
 * Several readings of one device, or of two damaged copies of the same disc, made into one: each
 * block from the first
 * reading that has it sound. Where two have it sound and differ, most of three decide, and of two
 * nobody: it is doubtful.
 */
import type { ByteSource } from '../bits/byte-source';
import { sameBytes } from '../bits/same-bytes';
import { GRADES, isSound, type Grade } from '../reading/grades';
import { ExtentMap, type Extent } from './extent-map';

interface BlockCopy {
  source: ByteSource;
  map: ExtentMap;
}

/** Blocks [from, to) that come from the copy of that number. */
export interface Supply {
  from: number;
  to: number;
  copy: number;
}

export interface MergedCopies {
  map: ExtentMap;
  /** In order; blocks that no copy has are in none. */
  supply: Supply[];
  /** Blocks that two copies have sound, and not the same. */
  differing: { from: number; to: number }[];
  /** Blocks that two copies have sound. */
  compared: number;
  /**
   * So much differs that they are not copies of one thing: nothing was put together beyond the
   * first places.
   */
  another: boolean;
}

const AT_ONCE = 1 << 20;
/**
 * Runs of blocks that differ that are listed; further ones are doubtful as well, and in no list.
 */
const MAX_DIFFERING = 1000;
/**
 * More blocks that differ than this, and more than this share of those compared, are another disk.
 */
const ANOTHER_BLOCKS = 2000;
const ANOTHER_SHARE = 0.2;

const better = (a: Grade, b: Grade) => GRADES.indexOf(a) < GRADES.indexOf(b);

function push<T extends { from: number; to: number }>(
  runs: T[],
  run: T,
  same: (a: T, b: T) => boolean,
): void {
  const before = runs[runs.length - 1];
  if (before?.to === run.from && same(before, run)) before.to = run.to;
  else runs.push(run);
}

/**
 * All copies must have blocks of `blockBytes`; a shorter one has the rest unread. Sources are read
 * only where two copies are sound.
 */
export async function mergeCopies(
  copies: readonly BlockCopy[],
  blockBytes: number,
): Promise<MergedCopies> {
  const blocks = Math.max(0, ...copies.map(({ map }) => map.blocks));
  const map = new ExtentMap(blocks);
  const merged: MergedCopies = { map, supply: [], differing: [], compared: 0, another: false };
  const differ = { blocks: 0 };
  const indices = copies.map(() => 0);
  for (let at = 0; at < blocks && !merged.another;) {
    const here: (Readonly<Extent> | null)[] = copies.map((copy, i) => {
      const list = copy.map.extents();
      while (indices[i]! < list.length && list[indices[i]!]!.to <= at) indices[i]!++;
      return list[indices[i]!] ?? null;
    });
    const to = Math.min(blocks, ...here.flatMap((each) => (each ? [each.to] : [])));
    let best = -1;
    for (const [i, each] of here.entries())
      if (each && (best < 0 || better(each.grade, here[best]!.grade))) best = i;
    const known = here[best];
    if (known && known.grade !== 'unread') {
      map.update(at, to, () => ({
        grade: known.grade,
        tries: known.tries,
        group: 0,
        pace: known.pace,
      }));
      if (known.grade !== 'lost')
        push(merged.supply, { from: at, to, copy: best }, (a, b) => a.copy === b.copy);
    }
    const sound = here.flatMap((each, i) => (each && isSound(each.grade) ? [i] : []));
    if (sound.length > 1) await compare(copies, sound, best, at, to, blockBytes, merged, differ);
    at = to;
  }
  return merged;
}

async function compare(
  copies: readonly BlockCopy[],
  sound: readonly number[],
  best: number,
  from: number,
  to: number,
  blockBytes: number,
  merged: MergedCopies,
  differ: { blocks: number },
): Promise<void> {
  const step = Math.max(1, Math.floor(AT_ONCE / blockBytes));
  for (let at = from; at < to; at += step) {
    const count = Math.min(step, to - at);
    const parts = await Promise.all(
      sound.map((i) => copies[i]!.source.read(at * blockBytes, count * blockBytes)),
    );
    merged.compared += count;
    if (parts.every((part) => sameBytes(part, parts[0]!))) continue;
    for (let i = 0; i < count; i++) {
      const each = parts.map((part) => part.subarray(i * blockBytes, (i + 1) * blockBytes));
      if (each.every((bytes) => sameBytes(bytes, each[0]!))) continue;
      const block = at + i;
      if (++differ.blocks > ANOTHER_BLOCKS && differ.blocks > merged.compared * ANOTHER_SHARE) {
        merged.another = true;
        return;
      }
      if (merged.differing.length < MAX_DIFFERING)
        push(merged.differing, { from: block, to: block + 1 }, () => true);
      // As many as not would leave it open.
      const agreeing = each.map((bytes) => each.filter((other) => sameBytes(bytes, other)).length);
      const most = Math.max(...agreeing);
      const winner = most * 2 > each.length ? sound[agreeing.indexOf(most)]! : null;
      if (winner === null)
        merged.map.update(block, block + 1, (known) => ({ ...known, grade: 'doubtful' }));
      else if (winner !== best) {
        merged.map.update(block, block + 1, (known) => ({ ...known, grade: 'mended' }));
        replaceSupply(merged.supply, block, winner);
      }
    }
  }
}

function replaceSupply(supply: Supply[], block: number, copy: number): void {
  const i = supply.findIndex(({ from, to }) => block >= from && block < to);
  const run = supply[i];
  if (!run) return;
  const parts = [
    { ...run, to: block },
    { from: block, to: block + 1, copy },
    { ...run, from: block + 1 },
  ].filter(({ from, to }) => to > from);
  supply.splice(i, 1, ...parts);
}

/** The merged bytes as a source; zeros where no copy has any. */
export function mergedSource(
  copies: readonly BlockCopy[],
  { map, supply }: Pick<MergedCopies, 'map' | 'supply'>,
  blockBytes: number,
): ByteSource {
  const size = map.blocks * blockBytes;
  return {
    size,
    async read(offset, length) {
      const end = Math.max(offset, Math.min(size, offset + length));
      const out = new Uint8Array(end - offset);
      for (const { from, to, copy } of supply) {
        const [start, stop] = [Math.max(offset, from * blockBytes), Math.min(end, to * blockBytes)];
        if (start < stop)
          out.set(await copies[copy]!.source.read(start, stop - start), start - offset);
      }
      return out;
    },
  };
}
