/** Directory entries of CP/M, and what follows from a set of parameters. */
import type { ByteSource } from '@/core/bits/byte-source';
import { type CpmParameters } from './parameters';
import { type Derived, extentsOf, type DirectoryEntry, isNameByte } from './extents';

export const ENTRY = 32;

export const DELETED = 0xe5;

export const RECORD = 128;

const MAX_USERS = 31;

export function deriveCpm({
  sectorBytes,
  sectorsPerTrack,
  tracks,
  reservedTracks,
  blockSize,
}: CpmParameters): Derived {
  const blocks = Math.floor(
    ((tracks - reservedTracks) * sectorsPerTrack * sectorBytes) / blockSize,
  );
  const numberBytes = blocks <= 256 ? 1 : 2;
  return {
    blocks,
    numberBytes,
    extentMask: Math.max(0, (numberBytes === 1 ? blockSize / 1024 : blockSize / 2048) - 1),
  };
}

export async function readStretch(
  source: ByteSource,
  parameters: CpmParameters,
  from: number,
  length: number,
): Promise<Uint8Array> {
  const out = new Uint8Array(length).fill(DELETED);
  let at = 0;
  for (const extent of extentsOf(parameters, from, length)) {
    out.set(await source.read(extent.offset, extent.length), at);
    at += extent.length;
  }
  return out;
}

export const isPlausible = (entry: Uint8Array) =>
  entry[0] === DELETED ||
  (entry[0]! <= MAX_USERS &&
    entry[1] !== 0x20 &&
    entry.subarray(1, 12).every(isNameByte) &&
    entry[12]! <= 31 &&
    entry[14]! <= 63 &&
    entry[15]! <= 128);

export function parseEntry(
  entry: Uint8Array,
  at: number,
  { numberBytes, extentMask }: Derived,
): DirectoryEntry {
  const text = (from: number, length: number) =>
    Array.from(entry.subarray(from, from + length), (byte) => String.fromCharCode(byte & 0x7f))
      .join('')
      .trimEnd();
  const type = text(9, 3);
  const extent = (entry[14]! & 0x3f) * 32 + (entry[12]! & 0x1f);
  const pointers =
    numberBytes === 1
      ? [...entry.subarray(16, 32)]
      : Array.from({ length: 8 }, (_, i) => entry[16 + i * 2]! | (entry[17 + i * 2]! << 8));
  return {
    user: entry[0]!,
    name: `${text(1, 8)}${type ? `.${type}` : ''}`,
    locked: (entry[9]! & 0x80) !== 0,
    number: Math.floor(extent / (extentMask + 1)),
    records: (extent & extentMask) * 128 + entry[15]!,
    pointers,
    at,
  };
}
