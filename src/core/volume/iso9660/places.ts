/** Where the bytes of a directory record's file lie (ECMA-119, 6.4.3: in units with gaps between). */
import type { Extent } from '../volume';
import type { DirectoryRecord } from './directory-record';

type Placed = Pick<DirectoryRecord, 'block' | 'attributeBlocks' | 'bytes' | 'unit' | 'gap'>;

function recordedPlaces(record: Placed, blockBytes: number, sourceBytes: number): Extent[] {
  const { block, attributeBlocks, bytes, unit, gap } = record;
  const start = (block + attributeBlocks) * blockBytes;
  if (unit === 0) return [{ offset: start, length: bytes }];
  const extents: Extent[] = [];
  const [own, step] = [unit * blockBytes, (unit + gap) * blockBytes];
  for (let done = 0, offset = start; done < bytes; done += own, offset += step) {
    if (offset > sourceBytes) break;
    extents.push({ offset, length: Math.min(own, bytes - done) });
  }
  return extents;
}

/** As far as the source has them; cut where it ends before them. */
export function placesInSource(
  record: Placed,
  blockBytes: number,
  sourceBytes: number,
): { extents: Extent[]; cut: boolean } {
  const extents = recordedPlaces(record, blockBytes, sourceBytes)
    .map(({ offset, length }) => ({ offset, length: Math.min(length, sourceBytes - offset) }))
    .filter(({ length }) => length > 0);
  const there = extents.reduce((sum, { length }) => sum + length, 0);
  return { extents, cut: there < record.bytes };
}
