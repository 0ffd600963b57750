/**
 * Entries of a UDF volume that nothing leads to: its file set, its root and folders, files. Looked
 * for by their tags, which say what they are and where they stand (ECMA-167 part 3, 7.2).
 */
import { readTag, TAG, longAddress, type LongAddress } from './tags';
import { entryAt } from './file-entry';
import { viewOf } from './records';
import type { UdfSpace } from './space';

/** Blocks looked at. */
const MOST_BLOCKS = 2 ** 17;
const MOST_FOUND = 10_000;

/** File types of entries (ECMA-167 part 4, 14.6.6). */
const DIRECTORY = 4;
const FILE = 5;

/** Where a directory's first identifier, that of the one above it, says that it is. */
const PARENT_ICB = 20;

export interface LostEntry {
  address: LongAddress;
  isDirectory: boolean;
  /** Of a directory: the block of the one above it. */
  parent: number | null;
}

const at = (block: number, partition: number, blockBytes: number): LongAddress => ({
  length: blockBytes,
  kind: 0,
  block,
  partition,
});

async function parentOf(space: UdfSpace, address: LongAddress): Promise<number | null> {
  const own = await entryAt(space, address);
  const first = own?.extents.find(({ offset }) => offset >= 0);
  if (!first) return null;
  const bytes = await space.source.read(first.offset, PARENT_ICB + 16);
  const tag = readTag(bytes, null, first.offset, null);
  return tag?.id === TAG.fileIdentifier ? longAddress(viewOf(bytes), PARENT_ICB).block : null;
}

interface Found {
  fileSets: LongAddress[];
  entries: LostEntry[];
}

/** Every entry of the volume by its tag, and its file sets. */
export async function entriesOf(space: UdfSpace): Promise<Found> {
  const found: Found = { fileSets: [], entries: [] };
  for (let partition = 0; partition < space.references; partition++)
    await lookThrough(space, partition, found);
  return found;
}

/** By the blocks that one reference means: an entry says its own number by that reference. */
async function lookThrough(
  space: UdfSpace,
  partition: number,
  { fileSets, entries }: Found,
): Promise<void> {
  for (let block = 0; block < MOST_BLOCKS && entries.length < MOST_FOUND; block++) {
    const address = at(block, partition, space.blockBytes);
    const place = space.placeOf(address);
    if (place === null) break;
    const head = await space.source.read(place, 32);
    const tag = readTag(head, null, place, null);
    if (!tag?.sound || viewOf(head).getUint32(12, true) !== block) continue;
    if (tag.id === TAG.fileSet) fileSets.push(address);
    if (tag.id !== TAG.fileEntry && tag.id !== TAG.extendedFileEntry) continue;
    const isDirectory = head[27] === DIRECTORY;
    if (!isDirectory && head[27] !== FILE) continue;
    const parent = isDirectory ? await parentOf(space, address) : null;
    entries.push({ address, isDirectory, parent });
  }
}
