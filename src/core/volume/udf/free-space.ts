/**
 * Space of a partition that nothing has, where its header leads to a bitmap of it (ECMA-167 part 4,
 * 14.3 and 14.12): discs and disks that are written anew have one, discs written once have none.
 */
import { streamExtents } from '../volume';
import type { Blocks } from './partition-maps';
import { SECTOR, viewOf } from './records';
import { readTag, TAG, type LongAddress } from './tags';

/** Tag, number of bits, number of bytes; then a bit a block, the lowest first, 1 of a free one. */
const HEAD = 24;
const BITS = 16;

const ONES = Uint8Array.from({ length: 256 }, (_, byte) => {
  let ones = 0;
  for (let rest = byte; rest > 0; rest >>= 1) ones += rest & 1;
  return ones;
});

/** How many of the first `blocks` blocks are free by the bitmap there; 0 where it is none. */
export async function freeBlocksBy(
  space: Blocks,
  address: LongAddress,
  blocks: number,
): Promise<number> {
  const { source } = space;
  const length = Math.min(address.length, HEAD + Math.ceil(blocks / 8));
  const extents = space.runsOf(address, length);
  const [first] = extents;
  if (!first || length <= HEAD) return 0;
  const head = await source.read(first.offset, SECTOR);
  // Its own sum of a whole bitmap is seldom kept, and need not be.
  const tag = readTag(head, null, first.offset, null);
  if (tag?.id !== TAG.spaceBitmap || !tag.sound || head.length < HEAD) return 0;
  const bits = Math.min(viewOf(head).getUint32(BITS, true), blocks, 8 * (length - HEAD));
  const bytes = HEAD + Math.ceil(bits / 8);
  let [at, free] = [0, 0];
  for await (const piece of streamExtents(source, { extents, bytes }))
    for (const byte of piece) {
      const isLast = at === bytes - 1 && bits % 8 > 0;
      if (at++ >= HEAD) free += ONES[isLast ? byte & ((1 << (bits % 8)) - 1) : byte]!;
    }
  return free;
}
