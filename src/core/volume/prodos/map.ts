/** The map of free blocks of a ProDOS volume, and what the files say against it. */
import type { ByteSource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import type { BlockOwners, ProblemList } from '../extent-volume';
import { BLOCK } from './records';

/** A bit a block, the first in the highest bit of the first byte; 1 is free. */
export async function readMap(
  source: ByteSource,
  first: number,
  total: number,
  owners: BlockOwners,
): Promise<Uint8Array> {
  const system = owners.owner(said('volume.theSystem'));
  for (const block of [0, 1]) owners.claim(block, system);
  const blocks = Math.ceil(total / (BLOCK * 8));
  const map = await source.read(first * BLOCK, blocks * BLOCK);
  for (let i = 0; i < blocks; i++) owners.claim(first + i, system);
  return Uint8Array.from(
    { length: total },
    (_, block) => ((map[block >> 3] ?? 0) >> (7 - (block & 7))) & 1,
  );
}

/** Once every file was followed: blocks in use that the map calls free, and the other way round. */
export function checkMap(free: Uint8Array, owners: BlockOwners, problems: ProblemList): void {
  let used = 0;
  let lost = 0;
  for (const [block, isFree] of free.entries()) {
    if (owners.isOwned(block) && isFree) used++;
    else if (!owners.isOwned(block) && !isFree) lost++;
  }
  if (used > 0) problems.report('map-mismatch', null, said('prodos.blocksAreInUse', { used }));
  if (lost > 0) problems.report('lost-chain', null, said('prodos.blocksAreMarkedIn', { lost }));
}
