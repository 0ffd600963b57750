/** What a file of a 16-sector catalogue holds, by its type and its own header; and how it is called. */
import { bytesOfExtents, joined, withoutHead } from '../extents';
import { numberIn } from '../record';
import type { Extent, VolumeEntry } from '../volume';
import { ENTRY_FIELDS, LOCKED, TYPES, headOf } from './records';

/** Letters with their high bits set, padded with blanks. */
export const nameOf = (bytes: Uint8Array) =>
  Array.from(bytes, (byte) =>
    (byte & 0x7f) >= 0x20 && (byte & 0x7f) < 0x7f
      ? String.fromCharCode(byte & 0x7f)
      : `‹${byte.toString(16).toUpperCase().padStart(2, '0')}›`,
  )
    .join('')
    .trimEnd();

export const typeIn = (entry: Uint8Array) => numberIn(entry, ENTRY_FIELDS.fileType) & ~LOCKED;

export const typeName = (entry: Uint8Array): string | undefined => TYPES[typeIn(entry)];

export const isLocked = (entry: Uint8Array) =>
  (numberIn(entry, ENTRY_FIELDS.fileType) & LOCKED) !== 0;

/**
 * Content by the file's own header: an address and a length before binary files, a length before
 * BASIC ones; text up to its first 00.
 */
export function contentOf(
  image: Uint8Array,
  type: number,
  extents: readonly Extent[],
): Pick<VolumeEntry, 'type' | 'bytes' | 'extents' | 'address'> {
  const whole = bytesOfExtents(extents);
  const first = extents[0];
  const byte = (at: number) => (first && first.offset >= 0 ? (image[first.offset + at] ?? 0) : 0);
  const skip = headOf(type);
  const name = TYPES[type] ?? String(type);
  if (skip > 0) {
    const length = byte(skip - 2) | (byte(skip - 1) << 8);
    const within = length > 0 && length + skip <= whole;
    return {
      type: name,
      bytes: within ? length : Math.max(0, whole - skip),
      extents: joined(withoutHead(extents, skip)),
      ...(skip === 4 && { address: byte(0) | (byte(1) << 8) }),
    };
  }
  return {
    type: name,
    bytes: type === 0 ? textLength(image, extents, whole) : whole,
    extents: joined(extents),
  };
}

function textLength(image: Uint8Array, extents: readonly Extent[], whole: number): number {
  // Text kept by records has holes and zeros inside: then all of it counts.
  if (extents.some(({ offset }) => offset < 0)) return whole;
  let at = 0;
  for (const { offset, length } of extents) {
    const end = image.subarray(offset, offset + length).indexOf(0);
    if (end >= 0) return at + end;
    at += length;
  }
  return whole;
}
