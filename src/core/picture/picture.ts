/**
 * Simple pictures of old machines as pixels: device-independent bitmaps, run-length coded paint files, interleaved
 * bitmaps (EA IFF 85), and the screen memory that programs saved as it stood. Known by content, and screens also by size.
 */
import { deviceIndependentBitmap } from './bitmap';
import { interleavedBitmap } from './interleaved';
import { runLengthPaint } from './run-length';
import { screenMemory } from './screen-memory';
import type { Picture } from './canvas';

/** The picture that these bytes are; null where they are none that is known. */
export function pictureOf(bytes: Uint8Array, filesystem: string, type: string | null | undefined): Picture | null {
  return deviceIndependentBitmap(bytes) ?? interleavedBitmap(bytes) ?? runLengthPaint(bytes) ?? screenMemory(bytes, filesystem, type);
}

/** Pictures that every browser draws by itself, by their first bytes. */
export function browserType(bytes: Uint8Array): 'image/png' | 'image/gif' | 'image/jpeg' | null {
  const begins = (...start: number[]) => start.every((byte, i) => bytes[i] === byte);
  if (begins(0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a)) return 'image/png';
  if (begins(0x47, 0x49, 0x46, 0x38)) return 'image/gif';
  return begins(0xff, 0xd8, 0xff) ? 'image/jpeg' : null;
}
