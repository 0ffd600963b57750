/** What a device of blocks holds that is to be written over: its start, and places all over it. */
import { piecewiseSource } from '@/core/bits/byte-source';
import type { BlockMedium } from '@/core/block/device';
import { identifyVolumes } from '@/core/identify/identify';
import type { TargetFound } from '@/server/states';

/** Places looked at before anything is written, beside the start. */
const LOOKED_AT = 48;
const START_BYTES = 512 << 10;
/** Blocks read at once while its volumes are looked for. */
const LOOK_BLOCKS = 16;
/** Files named. */
const MAX_NAMED = 6;

const isFilled = (bytes: Uint8Array) => bytes.some((byte) => byte !== bytes[0]);

/** `read` gives the bytes of so many blocks from one on. */
export async function lookAtBlocks(
  { blockBytes, blocks }: BlockMedium,
  read: (from: number, count: number) => Promise<Uint8Array>,
): Promise<TargetFound> {
  const start = await read(0, Math.floor(START_BYTES / blockBytes));
  let filled = 0;
  for (let block = 0; (block + 1) * blockBytes <= start.length; block++)
    if (isFilled(start.subarray(block * blockBytes, (block + 1) * blockBytes))) filled++;
  for (let i = 1; i <= LOOKED_AT; i++)
    if (isFilled(await read(Math.floor(((blocks - 1) * i) / LOOKED_AT), 1))) filled++;
  const found = { sectors: filled, layout: null, heldAs: null };
  if (filled === 0) return { ...found, state: 'blank', label: null, files: [] };
  const source = piecewiseSource(blocks * blockBytes, LOOK_BLOCKS * blockBytes, (piece) =>
    read(piece * LOOK_BLOCKS, LOOK_BLOCKS),
  );
  const { volumes } = await identifyVolumes(source, { isDevice: true });
  const files = volumes.flatMap(({ volume }) =>
    volume.entries.filter(({ deleted }) => !deleted).map(({ path }) => path),
  );
  const first = volumes[0]?.volume;
  const label = first?.label ?? first?.filesystem.toUpperCase() ?? null;
  return { ...found, state: 'data', label, files: files.slice(0, MAX_NAMED) };
}
