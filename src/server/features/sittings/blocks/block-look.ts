/**
 * A device as a source for its own tables: what is read of it is kept like everything else, bad
 * blocks are zeros. Raw discs show their user bytes.
 */
import { piecewiseSource, type ByteSource } from '@/core/bits/byte-source';
import { isRawDisc, type BlockMedium } from '@/core/block/device';
import { USER_SECTOR_BYTES } from '@/core/optical/raw-sector';

/** Most bytes that looking for landmarks reads. */
const LOOK_BYTES = 8 << 20;
/** Tables lie together: a few blocks at once. */
const AT_ONCE_BYTES = 16_384;

/**
 * The user bytes of a raw sector, as most discs have them: behind the header, or behind header and
 * subheader in mode 2.
 */
const userPart = (block: Uint8Array, raw: boolean) =>
  raw ? (block[15] === 2 ? block.subarray(24, 2072) : block.subarray(16, 2064)) : block;

/** `read` gives the bytes of so many blocks from one on, fewer where they end in a bad one. */
export function lookingSource(
  device: BlockMedium,
  read: (from: number, count: number) => Promise<Uint8Array>,
): ByteSource {
  const { blockBytes } = device;
  const raw = isRawDisc(device);
  const user = raw ? USER_SECTOR_BYTES : blockBytes;
  const first = raw ? (device.tracks.find(({ mode }) => mode !== 'audio')?.start ?? 0) : 0;
  const blocks = Math.max(0, device.blocks - first);
  const atOnce = Math.max(1, Math.floor(AT_ONCE_BYTES / blockBytes));
  const kept = new Map<number, Uint8Array>();
  let left = LOOK_BYTES;
  const fill = async (number: number) => {
    const count = Math.min(atOnce, blocks - number);
    left -= count * blockBytes;
    const bytes = await read(first + number, count);
    for (let i = 0; i < count; i++) {
      const block = bytes.subarray(i * blockBytes, (i + 1) * blockBytes);
      const isWhole = block.length === blockBytes;
      kept.set(number + i, isWhole ? userPart(block, raw) : new Uint8Array(user));
    }
  };
  return piecewiseSource(blocks * user, user, async (number) => {
    if (!kept.has(number) && left > 0) await fill(number);
    return kept.get(number) ?? new Uint8Array(user);
  });
}
