/** Runs of bytes in order, put together and cut. */
import type { Extent } from './volume';

/** Extents put together where one follows on the other. */
export function joined(extents: readonly Extent[]): Extent[] {
  const out: Extent[] = [];
  for (const { offset, length } of extents) {
    const last = out[out.length - 1];
    if (last && offset >= 0 && last.offset >= 0 && last.offset + last.length === offset)
      last.length += length;
    else if (last && offset < 0 && last.offset < 0) last.length += length;
    else out.push({ offset, length });
  }
  return out;
}

/** Extents from `skip` bytes on. */
export function withoutHead(extents: readonly Extent[], skip: number): Extent[] {
  let left = skip;
  return extents.flatMap(({ offset, length }) => {
    const cut = Math.min(left, length);
    left -= cut;
    return cut === length
      ? []
      : [{ offset: offset < 0 ? offset : offset + cut, length: length - cut }];
  });
}

export const bytesOfExtents = (extents: readonly Extent[]) =>
  extents.reduce((sum, { length }) => sum + length, 0);
