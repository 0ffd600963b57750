/**
 * Directory entries of 32 bytes (ECMA-107, clause 11), with long names, deleted entries and dates.
 */
import { numberIn } from '../record';
import { LongName, shortName } from './names';
import {
  DELETED,
  DIRECTORY,
  ENTRY,
  ENTRY_FIELDS,
  LABEL,
  LONG_NAME,
  NEVER_USED,
  READ_ONLY,
  fatTime,
} from './records';

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

export const isLocked = (entry: FatEntry) => (entry.attributes & READ_ONLY) !== 0;
export const isDirectory = (entry: FatEntry) => (entry.attributes & DIRECTORY) !== 0;
export const isLabel = (entry: FatEntry) => (entry.attributes & LABEL) !== 0;

/** Could these 32 bytes be an entry? Used to tell a directory from something else. */
export function isPlausibleEntry(entry: Uint8Array): boolean {
  const attributes = numberIn(entry, ENTRY_FIELDS.attributes);
  if (entry[0] === NEVER_USED) return true;
  if (attributes === LONG_NAME) return entry[12] === 0 && entry[26] === 0 && entry[27] === 0;
  return (
    (attributes & 0xc0) === 0 &&
    entry.subarray(1, 11).every((byte) => byte >= 0x20 && byte !== 0x7f)
  );
}

const isSelfOrParent = (entry: Uint8Array): boolean =>
  entry[0] === 0x2e && /^\.{1,2} +$/.test(String.fromCharCode(...entry.subarray(0, 11)));

/** The time is the first word of its field, the date the second. */
function modifiedOf(entry: Uint8Array): string | null {
  const moment = numberIn(entry, ENTRY_FIELDS.changed);
  return fatTime(Math.floor(moment / 65536), moment % 65536);
}

/**
 * The entries of a directory's bytes up to the first that was never used; `.` and `..` are left
 * out.
 */
export function parseDirectory(bytes: Uint8Array, wide: boolean): FatEntry[] {
  const entries: FatEntry[] = [];
  const longName = new LongName();
  for (let at = 0; at + ENTRY <= bytes.length; at += ENTRY) {
    const entry = bytes.subarray(at, at + ENTRY);
    if (entry[0] === NEVER_USED) break;
    const attributes = numberIn(entry, ENTRY_FIELDS.attributes);
    if ((attributes & 0x3f) === LONG_NAME) {
      longName.add(entry);
      continue;
    }
    const deleted = entry[0] === DELETED;
    const long = longName.take(entry, deleted);
    if (attributes & DIRECTORY && isSelfOrParent(entry)) continue;
    const [low, high] = [ENTRY_FIELDS.firstCluster, ENTRY_FIELDS.firstClusterHigh];
    entries.push({
      name: long || shortName(entry, deleted),
      attributes,
      deleted,
      at,
      firstCluster: numberIn(entry, low) + (wide ? numberIn(entry, high) * 65536 : 0),
      bytes: numberIn(entry, ENTRY_FIELDS.bytes),
      modified: modifiedOf(entry),
    });
  }
  return entries;
}
