/** File identifiers: what a directory lists (ECMA-167 part 4, 14.4). */
import { said, type Words } from '@/core/said';
import type { ProblemList } from '../extent-volume';
import { viewOf } from './records';
import { longAddress, readTag, TAG, unicodeOf, type LongAddress } from './tags';

/** Characteristics of a file identifier (14.4.3). */
const IS_DIRECTORY = 2;
const IS_DELETED = 4;
const IS_PARENT = 8;

/** Bytes of an identifier in front of its name; what its length is a multiple of. */
const IDENTIFIER = 38;
const STEP = 4;
const [LOW, HIGH] = [TAG.fileIdentifier & 0xff, TAG.fileIdentifier >> 8];

/** The identifier at a place; null where none can stand. */
function identifierAt(
  bytes: Uint8Array,
  at: number,
  offset: number,
  problems: ProblemList | null,
): Uint8Array | null {
  if (at + IDENTIFIER > bytes.length) return null;
  const useLength = viewOf(bytes).getUint16(at + 36, true);
  const length = (IDENTIFIER + bytes[at + 19]! + useLength + STEP - 1) & -STEP;
  const own = bytes.subarray(at, at + length);
  const tag = own.length === length ? readTag(own, null, offset, problems) : null;
  return tag?.id === TAG.fileIdentifier && tag.sound ? own : null;
}

/** Where the next sound identifier begins, or the end. */
function nextIdentifier(bytes: Uint8Array, from: number): number {
  for (let at = from; at < bytes.length; at += STEP) {
    const isOne = bytes[at] === LOW && bytes[at + 1] === HIGH;
    if (isOne && identifierAt(bytes, at, 0, null)) return at;
  }
  return bytes.length;
}

interface Identifier {
  icb: LongAddress;
  name: string;
  offset: number | null;
  deleted: boolean;
  isDirectory: boolean;
}

/**
 * The identifiers of a directory, without that of the one above it, which has no name. `first` is
 * the place of its first byte.
 */
export function* identifiersOf(
  bytes: Uint8Array,
  first: number | null,
  place: Words,
  problems: ProblemList,
): Generator<Identifier> {
  for (let at = 0; at < bytes.length;) {
    const offset = first === null ? null : first + at;
    const own = identifierAt(bytes, at, offset ?? 0, problems);
    if (!own) {
      problems.report('directory-damaged', offset, said('udf.anEntryOfMakes', { place }));
      at = nextIdentifier(bytes, at + STEP);
      continue;
    }
    at += own.length;
    const flags = own[18]!;
    if (flags & IS_PARENT) continue;
    const nameAt = IDENTIFIER + viewOf(own).getUint16(36, true);
    yield {
      icb: longAddress(viewOf(own), 20),
      name: unicodeOf(own.subarray(nameAt, nameAt + own[19]!)),
      offset,
      deleted: (flags & IS_DELETED) !== 0,
      isDirectory: (flags & IS_DIRECTORY) !== 0,
    };
  }
}
