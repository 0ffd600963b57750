/**
 * Writes a disc of any size as a file: an ISO 9660 volume of files of 64 MiB, whose bytes a seed
 * makes.
 */
import { closeSync, openSync, writeSync } from 'node:fs';
import { seededRandom } from '@/core/bits/random';
import { isoHead, ISO_BLOCK } from '../demo/iso-builder';

const FILE_BYTES = 64 << 20;
const PIECE = 1 << 20;

/** Gives the bytes written and the files on it. */
export function writeLargeDisc(path: string, bytes: number): { bytes: number; files: number } {
  const files = Math.max(1, Math.floor(bytes / FILE_BYTES) - 1);
  const { head, blocks } = isoHead(
    'LARGE',
    Array.from({ length: files }, (_, i) => ({
      path: `GAUGE/G${String(i).padStart(3, '0')}.DAT`,
      length: FILE_BYTES,
      modified: '1998-01-01T00:00:00',
    })),
  );
  const file = openSync(path, 'w');
  try {
    writeSync(file, head);
    const random = seededRandom('large');
    const piece = new Uint8Array(PIECE);
    // Half of it packs well, half does not.
    for (let i = 0; i < PIECE; i++)
      piece[i] = (i >> 12) & 1 ? random.below(256) : 0x40 + (((i * i) >> 7) & 31);
    const end = blocks * ISO_BLOCK;
    const view = new DataView(piece.buffer);
    for (let at = head.length, n = 0; at < end; at += PIECE, n++) {
      // No two pieces are the same.
      for (let i = 0; i < PIECE; i += 4096) view.setUint32(i, n * 256 + i, true);
      writeSync(file, piece, 0, Math.min(PIECE, end - at));
    }
    return { bytes: end, files };
  } finally {
    closeSync(file);
  }
}
