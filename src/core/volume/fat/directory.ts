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
  ESCAPED_E5,
  LABEL,
  LAST_PART,
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
export const isDirectory = (entry: Pick<FatEntry, 'attributes'>) =>
  (entry.attributes & DIRECTORY) !== 0;
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

export interface FatDirectory {
  /** Up to the first that was never used, without `.` and `..`. */
  entries: FatEntry[];
  /** Well-formed ones behind that: the end may be an entry that was lost. */
  behindEnd: FatEntry[];
  /** First clusters that `.` and `..` name; null where the entry is not there. */
  self: number | null;
  parent: number | null;
  /** Long names whose short entry does not follow. */
  orphanedNames: number;
}

/** Bytes of names that no system writes. */
const isNameByte = (byte: number) =>
  byte >= 0x20 && byte !== 0x7f && !'"*+,/:;<=>?[\\]|'.includes(String.fromCharCode(byte));

const isWellFormed = (entry: Uint8Array): boolean =>
  isPlausibleEntry(entry) &&
  entry.subarray(0, 11).every((byte, i) => isNameByte(byte) || (i === 0 && byte === ESCAPED_E5)) &&
  entry[0] !== 0x20 &&
  (numberIn(entry, ENTRY_FIELDS.changed) === 0 || modifiedOf(entry) !== null);

class DirectoryParser {
  readonly found: FatDirectory = {
    entries: [],
    behindEnd: [],
    self: null,
    parent: null,
    orphanedNames: 0,
  };
  private longName = new LongName();
  private isBehindEnd = false;

  constructor(private readonly isWide: boolean) {}

  take(entry: Uint8Array, at: number): void {
    if (entry[0] === NEVER_USED) this.end();
    else if ((numberIn(entry, ENTRY_FIELDS.attributes) & 0x3f) === LONG_NAME) this.addName(entry);
    else if (!this.isBehindEnd) this.add(entry, at, this.found.entries);
    else if (isWellFormed(entry)) this.add(entry, at, this.found.behindEnd);
    else this.longName.reset();
  }

  end(): void {
    this.isBehindEnd = true;
    if (this.longName.isPending) this.found.orphanedNames++;
    this.longName.reset();
  }

  private addName(entry: Uint8Array): void {
    if (this.longName.isPending && entry[0]! & LAST_PART && entry[0] !== DELETED)
      this.found.orphanedNames++;
    this.longName.add(entry);
  }

  private firstClusterOf(entry: Uint8Array): number {
    const low = numberIn(entry, ENTRY_FIELDS.firstCluster);
    return low + (this.isWide ? numberIn(entry, ENTRY_FIELDS.firstClusterHigh) * 65536 : 0);
  }

  private add(entry: Uint8Array, at: number, list: FatEntry[]): void {
    const attributes = numberIn(entry, ENTRY_FIELDS.attributes);
    const deleted = entry[0] === DELETED;
    const isPending = this.longName.isPending;
    const long = this.longName.take(entry, deleted);
    if (isPending && long === null) this.found.orphanedNames++;
    const firstCluster = this.firstClusterOf(entry);
    if (attributes & DIRECTORY && isSelfOrParent(entry)) {
      this.found[entry[1] === 0x2e ? 'parent' : 'self'] ??= firstCluster;
      return;
    }
    list.push({
      name: long || shortName(entry, deleted),
      attributes,
      deleted,
      at,
      firstCluster,
      bytes: numberIn(entry, ENTRY_FIELDS.bytes),
      modified: modifiedOf(entry),
    });
  }
}

/** The entries of a directory's bytes. */
export function parseDirectory(bytes: Uint8Array, isWide: boolean): FatDirectory {
  const parser = new DirectoryParser(isWide);
  for (let at = 0; at + ENTRY <= bytes.length; at += ENTRY)
    parser.take(bytes.subarray(at, at + ENTRY), at);
  parser.end();
  return parser.found;
}
