/** Sampler disks with nothing on them, or with room, as `docs/formats/volumes.md` has their layout. */
const BLOCK = 0x2000;
const CHAINS = 0x70a;
const SYSTEM = 0x4000;

/** Partitions of so many blocks each, and behind them the end of their list. */
export function blankSamplerDisk(...partitions: readonly number[]): Uint8Array {
  const disk = new Uint8Array((partitions.reduce((sum, blocks) => sum + blocks, 0) + 1) * BLOCK);
  const view = new DataView(disk.buffer);
  let at = 0;
  for (const blocks of partitions) {
    view.setUint16(at, blocks, true);
    for (let block = 0; block < 3; block++) view.setUint16(at + CHAINS + 2 * block, SYSTEM, true);
    at += blocks * BLOCK;
  }
  return disk;
}

/** A disk whose first partition has so many free blocks more. */
export function withRoom(disk: Uint8Array, blocks: number): Uint8Array {
  const size = new DataView(disk.buffer, disk.byteOffset).getUint16(0, true);
  const grown = new Uint8Array(disk.length + blocks * BLOCK);
  grown.set(disk.subarray(0, size * BLOCK));
  grown.set(disk.subarray(size * BLOCK), (size + blocks) * BLOCK);
  const view = new DataView(grown.buffer);
  view.setUint16(0, size + blocks, true);
  for (let block = size; block < size + blocks; block++)
    view.setUint16(CHAINS + 2 * block, 0, true);
  return grown;
}
