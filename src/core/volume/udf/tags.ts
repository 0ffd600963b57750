/**
 * Descriptor tags, addresses and strings of UDF (ECMA-167 parts 3 and 4, OSTA UDF 1.02 to 2.60).
 */
import { crc16 } from '../../bits/crc16';
import type { ProblemList } from '../extent-volume';
import { localTime } from '../local-time';
import { said } from '@/core/said';

export const TAG = Object.freeze({
  primary: 1,
  anchor: 2,
  pointer: 3,
  partition: 5,
  logicalVolume: 6,
  end: 8,
  fileSet: 256,
  fileIdentifier: 257,
  allocationExtent: 258,
  fileEntry: 261,
  spaceBitmap: 264,
  extendedFileEntry: 266,
});

interface Tag {
  id: number;
  sound: boolean;
}

/**
 * The tag of a descriptor; what is wrong with it is told. A wrong sum makes it no descriptor; a
 * wrong CRC or place does not.
 */
export function readTag(
  bytes: Uint8Array,
  location: number | null,
  offset: number,
  problems: ProblemList | null,
): Tag | null {
  if (bytes.length < 16 || (bytes[0] === 0 && bytes[1] === 0)) return null;
  return readAnyTag(bytes, location, offset, problems);
}

/** The same of tags whose number may be 0. */
export function readAnyTag(
  bytes: Uint8Array,
  location: number | null,
  offset: number,
  problems: ProblemList | null,
): Tag {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const id = view.getUint16(0, true);
  let sum = 0;
  for (let i = 0; i < 16; i++) if (i !== 4) sum = (sum + bytes[i]!) & 0xff;
  if (sum !== bytes[4]) {
    problems?.report('udf-tag-checksum', offset, said('udf.theTagOfThe', { id }));
    return { id, sound: false };
  }
  const length = view.getUint16(10, true);
  if (16 + length > bytes.length || crc16(bytes, 16, 16 + length, 0) !== view.getUint16(8, true))
    problems?.report('udf-tag-crc', offset, said('udf.theDescriptorOfKind', { id }));
  if (location !== null && view.getUint32(12, true) !== location)
    problems?.report(
      'udf-tag-location',
      offset,
      said('udf.theDescriptorOfKindSays', { id, getUint32: view.getUint32(12, true), location }),
    );
  return { id, sound: true };
}

/** Compressed Unicode: eight bits a character, or sixteen, most byte first. */
export function unicodeOf(bytes: Uint8Array): string {
  if (bytes[0] === 8 || bytes[0] === 254) return String.fromCharCode(...bytes.subarray(1));
  if (bytes[0] === 16 || bytes[0] === 255)
    return String.fromCharCode(
      ...Array.from(
        { length: (bytes.length - 1) >> 1 },
        (_, i) => (bytes[1 + 2 * i]! << 8) | bytes[2 + 2 * i]!,
      ),
    );
  return '';
}

/** A string in a field of fixed length, whose last byte says how much of it is used. */
export const dstring = (field: Uint8Array): string =>
  unicodeOf(field.subarray(0, Math.min(field[field.length - 1]!, field.length - 1))).replace(
    /[\0 ]+$/,
    '',
  );

/** Twelve bytes: zone, year, month, day, hour, minute, second. */
export function timestampOf(bytes: Uint8Array): string | null {
  if (bytes.length < 9) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const year = view.getInt16(2, true);
  return year < 1000 || year > 9999
    ? null
    : localTime(year, bytes[4]!, bytes[5]!, bytes[6]!, bytes[7]!, bytes[8]!);
}

export interface LongAddress {
  length: number;
  kind: number;
  block: number;
  partition: number;
}

/**
 * A place by partition: its length's top bits say whether it is recorded, only allocated, neither,
 * or goes on elsewhere.
 */
export function longAddress(view: DataView, at: number): LongAddress {
  const length = view.getUint32(at, true);
  return {
    length: length & 0x3fffffff,
    kind: length >>> 30,
    block: view.getUint32(at + 4, true),
    partition: view.getUint16(at + 8, true),
  };
}
