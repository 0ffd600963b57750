/**
 * How references to a partition's blocks are turned into places: plainly, by a table of packets that
 * were moved, by a table of virtual blocks, or by a file (ECMA-167 part 3, 10.7; OSTA UDF 2.2.8 to
 * 2.2.13).
 */
import type { ByteSource } from '@/core/bits/byte-source';
import type { ProblemList } from '../extent-volume';
import { joined } from '../extents';
import type { Extent } from '../volume';
import type { LongAddress } from './tags';

export interface Partition {
  /** First byte. */
  start: number;
  blocks: number;
}

/** A run of blocks: the place of its first, and how many follow one another. */
interface Run {
  place: number;
  blocks: number;
}

/** Null of a block that lies nowhere. */
export type BlockMap = (block: number) => Run | null;

/** What tables and entries are read from. */
export interface OnDisc {
  readonly source: ByteSource;
  readonly problems: ProblemList;
  readonly blockBytes: number;
}

/** The same with the sectors that descriptors count in. */
export interface OnSectors extends OnDisc {
  readonly sectorBytes: number;
}

/** What file entries are read from. */
export interface Blocks extends OnDisc {
  placeOf(address: Pick<LongAddress, 'block' | 'partition'>): number | null;
  runsOf(address: Pick<LongAddress, 'block' | 'partition'>, length: number): Extent[];
}

export const plainMap =
  ({ start, blocks }: Partition, blockBytes: number): BlockMap =>
  (block) =>
    block < blocks ? { place: start + block * blockBytes, blocks: blocks - block } : null;

/** Packets of so many blocks; `moved` gives the new place of each by its first block. */
export function sparedMap(
  partition: Partition,
  blockBytes: number,
  packetBlocks: number,
  moved: ReadonlyMap<number, number>,
): BlockMap {
  const plain = plainMap(partition, blockBytes);
  if (moved.size === 0) return plain;
  return (block) => {
    const own = plain(block);
    if (!own) return null;
    const inPacket = block % packetBlocks;
    const place = moved.get(block - inPacket);
    return {
      place: place === undefined ? own.place : place + inPacket * blockBytes,
      blocks: Math.min(own.blocks, packetBlocks - inPacket),
    };
  };
}

/** An entry of the table that stands for no block. */
export const UNUSED = 0xffffffff;

export const virtualMap =
  (below: BlockMap, table: Uint32Array): BlockMap =>
  (block) => {
    const physical = table[block] ?? UNUSED;
    const own = physical === UNUSED ? null : below(physical);
    return own && { place: own.place, blocks: 1 };
  };

/** The last run that begins at a block or before it; -1 where none does. */
function lastUpTo(runs: readonly { first: number }[], block: number): number {
  let [low, high] = [0, runs.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (runs[middle]!.first <= block) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** The blocks of a file, in whole blocks. */
export function fileMap(extents: readonly Extent[], blockBytes: number): BlockMap {
  const runs: { first: number; end: number; offset: number }[] = [];
  let first = 0;
  for (const { offset, length } of extents) {
    const blocks = Math.ceil(length / blockBytes);
    if (offset >= 0) runs.push({ first, end: first + blocks, offset });
    first += blocks;
  }
  return (block) => {
    const run = runs[lastUpTo(runs, block)];
    return run && block < run.end
      ? { place: run.offset + (block - run.first) * blockBytes, blocks: run.end - block }
      : null;
  };
}

/**
 * Runs looked up for one volume at most: so many times its blocks, and beside them. Tables can give
 * every block of a sound volume a place of its own, and no more than that.
 */
const TIMES_THE_BLOCKS = 4;
const BESIDE_THEM = 2 ** 20;

/** Where `length` bytes from a block on lie, up to the first that lie nowhere. */
function runsBy(
  map: BlockMap,
  block: number,
  length: number,
  blockBytes: number,
  budget: { left: number },
): Extent[] {
  const runs: Extent[] = [];
  for (let done = 0; done < length;) {
    const run = map(block + done / blockBytes);
    if (!run || run.blocks <= 0 || budget.left-- <= 0) break;
    const there = Math.min(run.blocks * blockBytes, length - done);
    runs.push({ offset: run.place, length: there });
    done += there;
  }
  return runs;
}

/** Blocks by the map that each reference means; no place lies behind the source's end. */
export function blocksBy(
  mapOf: (reference: number) => BlockMap | null,
  { source, problems, blockBytes }: OnDisc,
): Blocks {
  const isThere = (place: number) => place < source.size;
  const blocks = Math.ceil(source.size / blockBytes);
  const budget = { left: blocks * TIMES_THE_BLOCKS + BESIDE_THEM };
  return {
    source,
    problems,
    blockBytes,
    placeOf({ block, partition }) {
      const place = mapOf(partition)?.(block)?.place ?? null;
      return place !== null && isThere(place) ? place : null;
    },
    runsOf({ block, partition }, length) {
      const map = mapOf(partition);
      const runs = map ? runsBy(map, block, length, blockBytes, budget) : [];
      const gone = runs.findIndex((run) => run.offset + run.length > source.size);
      if (gone < 0) return joined(runs);
      const { offset } = runs[gone]!;
      const rest = { offset, length: source.size - offset };
      return joined([...runs.slice(0, gone), ...(isThere(offset) ? [rest] : [])]);
    },
  };
}
