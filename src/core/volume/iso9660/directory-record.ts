/**
 * Directory records of ISO 9660 (ECMA-119, clause 9.1), and its numbers that stand twice, least
 * byte first and most byte first.
 */

import { localTime } from '../local-time';
import { said, type Said } from '@/core/said';

export interface DirectoryRecord {
  /** Of the record, in the source. */
  at: number;
  length: number;
  /** Blocks of the extended attribute record that stand before the data. */
  attributeBlocks: number;
  block: number;
  bytes: number;
  /** Local: `1991-05-04T10:20:30`; null where absent or impossible. */
  recorded: string | null;
  isDirectory: boolean;
  isAssociated: boolean;
  /** More of the same file follows in the next record. */
  goesOn: boolean;
  /** Blocks of a unit and between two, of interleaved files; 0 of others. */
  unit: number;
  gap: number;
  name: Uint8Array;
  systemUse: Uint8Array;
  /** One of its numbers is not the same both ways: which, and what each way says. */
  differs: { what: Said; isPlace: boolean; little: number; big: number } | null;
}

/** A number both ways; where they differ, the one that `fits`, or the first. */
export function bothEndian(
  view: DataView,
  at: number,
  bytes: 2 | 4,
  fits: (value: number) => boolean,
): { value: number; little: number; big: number } {
  const little = bytes === 2 ? view.getUint16(at, true) : view.getUint32(at, true);
  const big = bytes === 2 ? view.getUint16(at + bytes) : view.getUint32(at + bytes);
  return { value: little === big || fits(little) || !fits(big) ? little : big, little, big };
}

/** Seven bytes: years from 1900, month, day, hour, minute, second, and a zone that is left out. */
export function recordedTime(bytes: Uint8Array): string | null {
  return bytes.length < 6
    ? null
    : localTime(1900 + bytes[0]!, bytes[1]!, bytes[2]!, bytes[3]!, bytes[4]!, bytes[5]!);
}

const FIXED = 33;

/**
 * A record at `at` of a directory's bytes; null where none can stand. `blocks` is what the source
 * has, `blockBytes` of one.
 */
export function readRecord(
  directory: Uint8Array,
  at: number,
  base: number,
  { blocks, blockBytes }: { blocks: number; blockBytes: number },
): DirectoryRecord | null {
  const length = directory[at] ?? 0;
  const nameLength = directory[at + 32] ?? 0;
  if (length < FIXED + 1 || at + length > directory.length || FIXED + nameLength > length)
    return null;
  const view = new DataView(directory.buffer, directory.byteOffset + at, length);
  const { place, size, differs } = placeAndSize(view, blocks, blockBytes);
  // The name is padded to an even place; what follows is the system's own.
  const systemUse = FIXED + nameLength + ((nameLength & 1) === 0 ? 1 : 0);
  return {
    at: base + at,
    length,
    attributeBlocks: directory[at + 1]!,
    block: place.value,
    bytes: size.value,
    recorded: recordedTime(directory.subarray(at + 18, at + 25)),
    isDirectory: (directory[at + 25]! & 2) !== 0,
    isAssociated: (directory[at + 25]! & 4) !== 0,
    goesOn: (directory[at + 25]! & 0x80) !== 0,
    unit: directory[at + 26]!,
    gap: directory[at + 27]!,
    name: directory.subarray(at + FIXED, at + FIXED + nameLength),
    systemUse: directory.subarray(Math.min(at + length, at + systemUse), at + length),
    differs,
  };
}

function placeAndSize(view: DataView<ArrayBufferLike>, blocks: number, blockBytes: number) {
  const size = bothEndian(view, 10, 4, (value) => value <= blocks * blockBytes);
  const place = bothEndian(view, 2, 4, (value) => value < blocks);
  const differs =
    place.little !== place.big
      ? { what: said('iso9660.place'), isPlace: true, ...place }
      : size.little !== size.big
        ? { what: said('iso9660.length'), isPlace: false, ...size }
        : null;
  return { place, size, differs };
}
