/**
 * Entries of files that were removed: the name's length is gone, and an index block's halves are
 * swapped.
 */
import { BLOCK, ENTRY, ENTRY_FIELDS, pointerIn, swappedPointerIn } from './records';
import { bytesIn, numberIn } from '../record';
import { HOLE, type Extent } from '../volume';
import type { ProdosBlocks } from './forks';

export interface ErasedEntry {
  entry: Uint8Array;
  folders: readonly string[];
  at: number;
}

export const isErased = (entry: Uint8Array): boolean =>
  entry.length >= ENTRY &&
  numberIn(entry, ENTRY_FIELDS.keyBlock) !== 0 &&
  /[A-Z]/i.test(String.fromCharCode(entry[1]!));

export const erasedName = (entry: Uint8Array): string =>
  /^[A-Za-z][A-Za-z0-9.]{0,14}/.exec(
    String.fromCharCode(...bytesIn(entry, ENTRY_FIELDS.name)),
  )?.[0] ?? 'erased';

const extentOf = (block: number): Extent => ({
  offset: block === 0 ? HOLE : block * BLOCK,
  length: BLOCK,
});

/** Where the contents still lie; null where they do not, or where nothing tells. */
export async function erasedExtents(
  entry: Uint8Array,
  blocks: ProdosBlocks,
  free: Uint8Array,
): Promise<Extent[] | null> {
  const isLeft = (block: number) =>
    block > 1 && block < blocks.total && free[block] === 1 && !blocks.owners.isOwned(block);
  const key = numberIn(entry, ENTRY_FIELDS.keyBlock);
  const bytes = numberIn(entry, ENTRY_FIELDS.bytes);
  if (!isLeft(key)) return null;
  if (numberIn(entry, ENTRY_FIELDS.blocks) <= 1) return [extentOf(key)];
  const index = bytes <= 256 * BLOCK ? await blocks.read(key) : null;
  if (!index) return null;
  const listed = Array.from({ length: Math.ceil(bytes / BLOCK) }, (_, i) => i);
  const pointers = [swappedPointerIn, pointerIn]
    .map((pointer) => listed.map((i) => pointer(index, i)))
    .find((list) => list.every((block) => block === 0 || isLeft(block)));
  return pointers?.map(extentOf) ?? null;
}
