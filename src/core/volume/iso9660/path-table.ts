/**
 * Path tables of ISO 9660 (ECMA-119, section 9.4): every directory with its name and the one above
 * it, kept twice, least byte first and most byte first. They tell of directories that the tree no
 * longer leads to.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import type { ProblemList } from '../extent-volume';
import { LIMITS, type Descriptor } from './records';

export interface PathRecord {
  block: number;
  name: Uint8Array;
  /** Index in the table of the directory above it; its own for the root. */
  parent: number;
}

/** Bytes of a record before its name. */
const FIXED = 8;

/** The records of a table up to the first that can't be one. */
function recordsIn(bytes: Uint8Array, isLittle: boolean): PathRecord[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const records: PathRecord[] = [];
  for (let at = 0; at + FIXED < bytes.length;) {
    const length = bytes[at]!;
    if (length === 0 || at + FIXED + length > bytes.length) break;
    records.push({
      block: view.getUint32(at + 2, isLittle),
      parent: view.getUint16(at + 6, isLittle) - 1,
      name: bytes.slice(at + FIXED, at + FIXED + length),
    });
    at += FIXED + length + (length & 1);
  }
  return records;
}

/** Whether each record's parent stands before it, as the standard orders them, and the root is first. */
const isOrdered = (records: readonly PathRecord[]): boolean =>
  records.length > 0 &&
  records.every(({ parent }, i) => parent >= 0 && (i === 0 ? parent === 0 : parent < i));

const isSame = (one: readonly PathRecord[], other: readonly PathRecord[]): boolean =>
  one.length === other.length &&
  one.every(
    ({ block, parent, name }, i) =>
      block === other[i]!.block &&
      parent === other[i]!.parent &&
      name.every((byte, at) => byte === other[i]!.name[at]),
  );

/** The table that can be one: the first, or the second where the first can't. */
export async function readPathTable(
  source: ByteSource,
  { pathTable, blockBytes, at }: Descriptor,
  problems: ProblemList,
): Promise<PathRecord[]> {
  const length = Math.min(pathTable.bytes, LIMITS.pathTableBytes);
  const [little, big] = await Promise.all(
    [pathTable.block, pathTable.bigBlock].map((block) => source.read(block * blockBytes, length)),
  );
  const first = recordsIn(little!, true);
  const second = recordsIn(big!, false);
  if (pathTable.bigBlock > 0 && !isSame(first, second))
    problems.report('path-table-mismatch', at, said('iso9660.theTwoPathTables'));
  return isOrdered(first) || !isOrdered(second) ? first : second;
}
