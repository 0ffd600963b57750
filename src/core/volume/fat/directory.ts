/**
 * Directory entries of 32 bytes (ECMA-107, clause 11), with long names, deleted entries and dates.
 */
import { localTime } from '../local-time';
import { LongName, shortName } from './names';

export interface FatEntry {
  name: string;
  attributes: number;
  firstCluster: number;
  bytes: number;
  modified: string | null;
  deleted: boolean;
  /** Byte offset within the directory. */
  at: number;
}

const READ_ONLY = 0x01;
const VOLUME_LABEL = 0x08;
const DIRECTORY = 0x10;
const LONG_NAME = 0x0f;
const DELETED = 0xe5;

export const isLocked = (entry: FatEntry) => (entry.attributes & READ_ONLY) !== 0;
export const isDirectory = (entry: FatEntry) => (entry.attributes & DIRECTORY) !== 0;
export const isLabel = (entry: FatEntry) => (entry.attributes & VOLUME_LABEL) !== 0;

/** Date and time words as local time, or null where they name no moment. */
export function fatTime(date: number, time: number): string | null {
  return localTime(
    1980 + (date >> 9),
    (date >> 5) & 15,
    date & 31,
    time >> 11,
    (time >> 5) & 63,
    (time & 31) * 2,
  );
}

/** Could these 32 bytes be an entry? Used to tell a directory from something else. */
export function isPlausibleEntry(entry: Uint8Array): boolean {
  const attributes = entry[11]!;
  if (entry[0] === 0) return true;
  if (attributes === LONG_NAME) return entry[12] === 0 && entry[26] === 0 && entry[27] === 0;
  return (
    (attributes & 0xc0) === 0 &&
    entry.subarray(1, 11).every((byte) => byte >= 0x20 && byte !== 0x7f)
  );
}

const isSelfOrParent = (entry: Uint8Array): boolean =>
  entry[0] === 0x2e && /^\.{1,2} +$/.test(String.fromCharCode(...entry.subarray(0, 11)));

/**
 * The entries of a directory's bytes up to the first that was never used; `.` and `..` are left
 * out.
 */
export function parseDirectory(bytes: Uint8Array, wide: boolean): FatEntry[] {
  const entries: FatEntry[] = [];
  const longName = new LongName();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = 0; at + 32 <= bytes.length; at += 32) {
    const entry = bytes.subarray(at, at + 32);
    if (entry[0] === 0) break;
    const attributes = entry[11]!;
    if ((attributes & 0x3f) === LONG_NAME) {
      longName.add(entry);
      continue;
    }
    const deleted = entry[0] === DELETED;
    const long = longName.take(entry, deleted);
    if (attributes & DIRECTORY && isSelfOrParent(entry)) continue;
    entries.push({
      name: long || shortName(entry, deleted),
      attributes,
      deleted,
      at,
      firstCluster:
        view.getUint16(at + 26, true) + (wide ? view.getUint16(at + 20, true) * 65536 : 0),
      bytes: view.getUint32(at + 28, true),
      modified: fatTime(view.getUint16(at + 24, true), view.getUint16(at + 22, true)),
    });
  }
  return entries;
}
