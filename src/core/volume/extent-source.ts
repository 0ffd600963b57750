/**
 * A file of a volume as bytes that can be read at any place, and places in it as places of what
 * holds it.
 */
import type { ByteSource } from '../bits/byte-source';
import { joined } from './extents';
import { HOLE, type Extent, type VolumeEntry } from './volume';

/** The part of `extents` that bytes `offset` to `offset + length` of the file lie in, in order. */
export function placesOf(extents: readonly Extent[], { offset, length }: Extent): Extent[] {
  if (offset < 0) return [{ offset, length }];
  const parts: Extent[] = [];
  let at = 0;
  for (const extent of extents) {
    const from = Math.max(offset, at);
    const to = Math.min(offset + length, at + extent.length);
    if (from < to)
      parts.push({
        offset: extent.offset < 0 ? HOLE : extent.offset + from - at,
        length: to - from,
      });
    at += extent.length;
    if (at >= offset + length) break;
  }
  return joined(parts);
}

/** A file's bytes, holes as zeros. */
export function extentSource(
  source: ByteSource,
  { extents, bytes }: { extents: readonly Extent[]; bytes: number },
): ByteSource {
  const size = Math.min(
    bytes,
    extents.reduce((sum, { length }) => sum + length, 0),
  );
  return {
    size,
    async read(offset, length) {
      const from = Math.max(0, Math.min(offset, size));
      const out = new Uint8Array(Math.max(0, Math.min(length, size - from)));
      let at = 0;
      for (const place of placesOf(extents, { offset: from, length: out.length })) {
        if (place.offset >= 0) {
          const part = await source.read(place.offset, place.length);
          out.set(part, at);
          // The source ends before the volume does.
          if (part.length < place.length) return out.subarray(0, at + part.length);
        }
        at += place.length;
      }
      return out;
    },
  };
}

/**
 * Where in a file bytes lie that are in doubt: `ranges` of the image, the file's extents counted
 * from `base` on.
 */
export function doubtsIn(
  extents: readonly Extent[],
  base: number,
  ranges: readonly Extent[],
): Extent[] {
  const found: Extent[] = [];
  let at = 0;
  for (const { offset, length } of extents) {
    if (offset >= 0) {
      for (const range of ranges) {
        const from = Math.max(range.offset, offset + base);
        const to = Math.min(range.offset + range.length, offset + base + length);
        if (from < to) found.push({ offset: at + from - offset - base, length: to - from });
      }
    }
    at += length;
  }
  return found.sort((a, b) => a.offset - b.offset);
}

/**
 * Where in a file bytes are in doubt, and in what of its recorded bytes: of a packed file none has a
 * place in what it unpacks to, so that all of that is in doubt.
 */
export function doubtsOfFile(
  { extents, bytes, packedBytes }: Pick<VolumeEntry, 'extents' | 'bytes' | 'packedBytes'>,
  base: number,
  ranges: readonly Extent[],
): { doubts: Extent[]; recorded: Extent[] } {
  const recorded = doubtsIn(extents, base, ranges);
  const isPacked = typeof packedBytes === 'number' && recorded.length > 0;
  return { recorded, doubts: isPacked ? [{ offset: 0, length: bytes }] : recorded };
}
