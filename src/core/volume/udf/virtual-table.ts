/**
 * The virtual allocation table of a disc that can be written once only: which block stands for which
 * now (OSTA UDF 1.50 and 2.00, 2.2.11). Its entry is the last thing that was written.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { isZero } from '@/core/optical/sector-header';
import { said } from '@/core/said';
import { collect, streamExtents } from '../volume';
import { entryAt } from './file-entry';
import {
  blocksBy,
  plainMap,
  UNUSED,
  virtualMap,
  type BlockMap,
  type Blocks,
  type Partition,
  type OnDisc,
} from './partition-maps';
import { ascii, viewOf } from './records';
import { readTag, TAG } from './tags';

/** Written blocks looked at from the end of the image on, and empty ones passed over. */
const MOST_BLOCKS = 2 ** 17;
const MOST_EMPTY = 2 ** 20;
const AT_ONCE = 128;
/** Entries whose bytes are looked at: more that lead to no table are of another making. */
const MOST_TRIED = 64;
const MOST_BYTES = 16 << 20;
const MOST_VIRTUAL = MOST_BYTES / 4;

/** File types of the table: of UDF 2.00, and of 1.50, where its end names it. */
const VIRTUAL_TABLE = 248;
const UNSPECIFIED = 0;
/** What stands behind the entries of 1.50: a name, and the place of the table before. */
const TAIL = 36;
const TAIL_NAME = [1, 24] as const;
const LEAST_HEAD = 152;

/** The entries of a table's bytes; null where they are none. */
function entriesOf(bytes: Uint8Array, fileType: number): Uint32Array | null {
  const view = viewOf(bytes);
  if (fileType === VIRTUAL_TABLE) {
    const head = bytes.length >= LEAST_HEAD ? view.getUint16(0, true) : 0;
    return head >= LEAST_HEAD && head <= bytes.length ? numbers(bytes.subarray(head)) : null;
  }
  const tail = bytes.subarray(Math.max(0, bytes.length - TAIL));
  const isNamed = ascii(tail.subarray(...TAIL_NAME)).startsWith('*UDF Virtual Alloc Tbl');
  return isNamed ? numbers(bytes.subarray(0, bytes.length - TAIL)) : null;
}

function numbers(bytes: Uint8Array): Uint32Array {
  const view = viewOf(bytes);
  return Uint32Array.from({ length: bytes.length >> 2 }, (_, i) => view.getUint32(4 * i, true));
}

/** Whether a block may be the entry of a table. */
function mayLead(own: Uint8Array, place: number): boolean {
  const tag = readTag(own, null, place, null);
  const isEntry = tag?.id === TAG.fileEntry || tag?.id === TAG.extendedFileEntry;
  return isEntry && tag.sound && (own[27] === VIRTUAL_TABLE || own[27] === UNSPECIFIED);
}

/** The table whose entry stands at `place`; null where none does. */
async function tableAt(blocks: Blocks, place: number, own: Uint8Array) {
  const address = { block: viewOf(own).getUint32(12, true), partition: 0 };
  const entry = blocks.placeOf(address) === place ? await entryAt(blocks, address) : null;
  if (!entry || entry.short) return null;
  const wanted = { extents: entry.extents, bytes: Math.min(entry.bytes, MOST_BYTES) };
  return entriesOf(await collect(streamExtents(blocks.source, wanted)), entry.fileType);
}

/** Every block that holds anything, from the end of the source on. */
async function* writtenFromEnd(source: ByteSource, blockBytes: number) {
  for (let end = Math.floor(source.size / blockBytes), empty = 0; end > 0 && empty < MOST_EMPTY;) {
    const first = Math.max(0, end - AT_ONCE);
    const bytes = await source.read(first * blockBytes, (end - first) * blockBytes);
    for (let block = end - 1; block >= first; block--) {
      const from = (block - first) * blockBytes;
      const own = bytes.subarray(from, from + blockBytes);
      if (isZero(own, 0, own.length)) empty++;
      else yield { place: block * blockBytes, own };
    }
    end = first;
  }
}

/** Kinds of descriptor that say which virtual block they are. */
const VIRTUAL: readonly number[] = [
  TAG.fileSet,
  TAG.fileIdentifier,
  TAG.fileEntry,
  TAG.extendedFileEntry,
];

/** Virtual blocks that were written behind the last table, each by the place of its newest. */
class Behind {
  /** Blocks written there. */
  written = 0;
  private readonly physical = new Map<number, number>();

  constructor(private readonly partition: Partition) {}

  /** Takes blocks in from the end of the source on. */
  add(place: number, own: Uint8Array, blockBytes: number): void {
    this.written++;
    const tag = readTag(own, null, place, null);
    const block = (place - this.partition.start) / blockBytes;
    if (!tag?.sound || !VIRTUAL.includes(tag.id) || block < 0) return;
    const virtual = viewOf(own).getUint32(12, true);
    // A table's own entry has no virtual number.
    if (virtual !== block && virtual < MOST_VIRTUAL && !this.physical.has(virtual))
      this.physical.set(virtual, block);
  }

  /** A table with what was written behind it. */
  addedTo(table: Uint32Array): Uint32Array {
    let size = table.length;
    for (const virtual of this.physical.keys()) size = Math.max(size, virtual + 1);
    const whole = new Uint32Array(size).fill(UNUSED);
    whole.set(table);
    for (const [virtual, block] of this.physical) whole[virtual] = block;
    return whole;
  }
}

/**
 * By the last table on the disc, and by what says its own number where something was written behind
 * it; told.
 */
export async function readVirtualTable(space: OnDisc, partition: Partition): Promise<BlockMap> {
  const { source, problems, blockBytes } = space;
  const below = plainMap(partition, blockBytes);
  const blocks = blocksBy(() => below, space);
  const behind = new Behind(partition);
  let tried = 0;
  for await (const { place, own } of writtenFromEnd(source, blockBytes)) {
    const leads = tried < MOST_TRIED && mayLead(own, place);
    if (leads) tried++;
    const table = leads ? await tableAt(blocks, place, own) : null;
    const { written } = behind;
    if (table && written === 0) return virtualMap(below, table);
    if (table) {
      problems.report('descriptor-damaged', place, said('udf.theLastTable', { written }));
      return virtualMap(below, behind.addedTo(table));
    }
    behind.add(place, own, blockBytes);
    if (behind.written >= MOST_BLOCKS) break;
  }
  problems.report('descriptor-damaged', null, said('udf.noVirtualTable'));
  return virtualMap(below, behind.addedTo(new Uint32Array(0)));
}
