/**
 * Simple pictures of old machines as pixels: device-independent bitmaps, run-length coded paint
 * files, interleaved
 * bitmaps (EA IFF 85), and the screen memory that programs saved as it stood. Known by content,
 * and screens also by size.
 */
import { deviceIndependentBitmap } from './bitmap';
import { interleavedBitmap } from './interleaved';
import { runLengthPaint } from './run-length';
import { screenMemory } from './screen-memory';
import type { Picture } from './canvas';

/** The picture that these bytes are; null where they are none that is known. */
export function pictureOf(
  bytes: Uint8Array,
  filesystem: string,
  type: string | null | undefined,
): Picture | null {
  return (
    deviceIndependentBitmap(bytes) ??
    interleavedBitmap(bytes) ??
    runLengthPaint(bytes) ??
    screenMemory(bytes, filesystem, type)
  );
}
