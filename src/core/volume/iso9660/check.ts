/** What two accounts of one disc say of each other: path table, boot catalogue, extents. */
import type { ByteSource } from '@/core/bits/byte-source';
import { ProblemList } from '../extent-volume';
import type { VolumeEntry } from '../volume';
import { type Descriptor } from './descriptors';
import { SECTOR, LIMITS } from './records';
import { said } from '@/core/said';

/** Directories of the path table against those that the tree leads to. */
export async function checkPathTable(
  source: ByteSource,
  { pathTable, blockBytes, at }: Descriptor,
  directories: ReadonlySet<number>,
  problems: ProblemList,
): Promise<void> {
  const bytes = await source.read(
    pathTable.block * blockBytes,
    Math.min(pathTable.bytes, LIMITS.pathTableBytes),
  );
  const listed = new Set<number>();
  for (let i = 0; i + 8 <= bytes.length;) {
    const length = bytes[i]!;
    if (length === 0) break;
    listed.add(
      (bytes[i + 2]! | (bytes[i + 3]! << 8) | (bytes[i + 4]! << 16) | (bytes[i + 5]! << 24)) >>> 0,
    );
    i += 8 + length + (length & 1);
  }
  const missing = [...directories].filter((block) => !listed.has(block)).length;
  const more = [...listed].filter((block) => !directories.has(block)).length;
  if (missing + more > 0)
    problems.report(
      'path-table-mismatch',
      at,
      said('iso9660.thePathTableLacks', { missing, more }),
    );
}

/** A catalogue's first entry sums to nothing, and ends with its mark. */
export async function checkBootCatalogue(
  source: ByteSource,
  block: number,
  problems: ProblemList,
): Promise<void> {
  const bytes = await source.read(block * SECTOR, 32);
  let sum = 0;
  for (let i = 0; i + 1 < bytes.length; i += 2) sum += bytes[i]! | (bytes[i + 1]! << 8);
  if (
    bytes.length < 32 ||
    bytes[0] !== 1 ||
    bytes[30] !== 0x55 ||
    bytes[31] !== 0xaa ||
    (sum & 0xffff) !== 0
  )
    problems.report('boot-catalog-damaged', block * SECTOR, said('iso9660.theCatalogueOfWhat'));
}

/**
 * Files that lie partly on one another; those that share all of their bytes are one file by two
 * names.
 */
export function checkOverlaps(entries: readonly VolumeEntry[], problems: ProblemList): void {
  const extents = entries
    .flatMap(({ extents: own, path }) => own.map((extent) => ({ ...extent, path })))
    .filter(({ offset, length }) => offset >= 0 && length > 0)
    .sort((a, b) => a.offset - b.offset || a.length - b.length);
  for (let i = 1; i < extents.length; i++) {
    const [before, each] = [extents[i - 1]!, extents[i]!];
    if (
      each.offset < before.offset + before.length &&
      !(each.offset === before.offset && each.length === before.length)
    )
      problems.report(
        'extents-overlap',
        each.offset,
        said('iso9660.andLiePartlyOn', { path: before.path, path2: each.path }),
      );
  }
}
