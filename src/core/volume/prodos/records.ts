/** Blocks, entries and words of ProDOS volumes: what reader, writer and listing of bytes go by. */
import { localTime } from '../local-time';
import {
  numberIn,
  raw,
  shifted,
  text,
  u16,
  u24,
  u8,
  type RecordLayout,
  type VolumeArea,
} from '../record';
import { said } from '@/core/said';

export const BLOCK = 512;

/** First block of the volume's own directory. */
export const ROOT = 2;

/** Last block of the volume's own directory; the map of free blocks comes behind it. */
export const LAST_OF_ROOT = 5;

export const MAP = LAST_OF_ROOT + 1;

/** A directory's records begin behind the links to the block before and the block after. */
export const FIRST_RECORD = 4;

/** Bytes of an entry, and entries a block, as every system writes them. */
export const ENTRY = 0x27;

export const PER_BLOCK = 0x0d;

/** Storage types: in the high half of an entry's first byte. */
export const SEEDLING = 1;
export const SAPLING = 2;
export const TREE = 3;
export const EXTENDED = 5;
export const SUBDIRECTORY = 0xd;
export const SUBDIRECTORY_HEADER = 0xe;
export const VOLUME_HEADER = 0xf;

/** Access bits: destroy, rename, write and read are what a file usually has. */
export const WRITABLE = 0x02;
export const UNLOCKED = 0xc3;
export const LOCKED = 0x21;

export const NAME = /^[A-Z][A-Z0-9.]{0,14}$/;

export const LINKS = Object.freeze({ blockBefore: u16(0), blockAfter: u16(2) });

export const ENTRY_FIELDS = Object.freeze({
  storageAndNameLength: raw(0, 1),
  name: text(1, 15),
  fileType: u8(0x10),
  keyBlock: u16(0x11),
  blocks: u16(0x13),
  bytes: u24(0x15),
  made: raw(0x18, 4),
  lowerCase: u16(0x1c),
  access: raw(0x1e, 1),
  auxiliaryType: u16(0x1f),
  changed: raw(0x21, 4),
  listedIn: u16(0x25),
}) satisfies RecordLayout;

/** Of each of two forks, in the first and second half of the key block. */
export const FORK_FIELDS = Object.freeze({
  storageAndNameLength: raw(0, 1),
  keyBlock: u16(1),
  blocks: u16(3),
  bytes: u24(5),
}) satisfies RecordLayout;

/** Of a directory's key block, from its first record on: what the volume's and a folder's share. */
export const HEADER_FIELDS = Object.freeze({
  storageAndNameLength: raw(0, 1),
  name: text(1, 15),
  made: raw(0x18, 4),
  access: raw(0x1e, 1),
  entryLength: u8(0x1f),
  entriesABlock: u8(0x20),
  files: u16(0x21),
}) satisfies RecordLayout;

export const VOLUME_HEADER_FIELDS = Object.freeze({
  ...HEADER_FIELDS,
  mapBlock: u16(0x23),
  blocks: u16(0x25),
}) satisfies RecordLayout;

/** Where a folder is listed: the block, which of its entries, and how long entries are there. */
export const FOLDER_HEADER_FIELDS = Object.freeze({
  ...HEADER_FIELDS,
  listedInBlock: u16(0x23),
  listedAsEntry: u8(0x25),
  listedEntryLength: u8(0x26),
}) satisfies RecordLayout;

export const storageOf = (entry: Uint8Array): number => entry[0]! >> 4;

/** An index block has the low bytes of its 256 pointers first, then the high ones. */
export const pointerIn = (index: Uint8Array, i: number): number =>
  index[i]! | (index[256 + i]! << 8);

/** As an index block is left behind by a file that was removed. */
export const swappedPointerIn = (index: Uint8Array, i: number): number =>
  index[256 + i]! | (index[i]! << 8);

/** The name of an entry or header; what is no letter is shown as such. */
export const nameIn = (record: Uint8Array): string =>
  String.fromCharCode(...record.subarray(1, 1 + (record[0]! & 15))).replace(/[^\x20-\x7e]/g, '�');

/** Whether a block begins a volume's own directory as every system writes it. */
export function isVolumeDirectory(block: Uint8Array): boolean {
  const header = block.subarray(FIRST_RECORD);
  return (
    numberIn(block, LINKS.blockBefore) === 0 &&
    storageOf(header) === VOLUME_HEADER &&
    NAME.test(nameIn(header)) &&
    numberIn(header, HEADER_FIELDS.entryLength) === ENTRY &&
    numberIn(header, HEADER_FIELDS.entriesABlock) === PER_BLOCK
  );
}

const FILE_STORAGES: readonly number[] = [SEEDLING, SAPLING, TREE, EXTENDED, SUBDIRECTORY];

const ENTRY_NAME = /^[A-Za-z][A-Za-z0-9.]{0,14}$/;

/** Whether a record could be an entry that is in use. */
export const isWellFormed = (entry: Uint8Array): boolean =>
  FILE_STORAGES.includes(storageOf(entry)) &&
  ENTRY_NAME.test(nameIn(entry)) &&
  numberIn(entry, ENTRY_FIELDS.keyBlock) > ROOT;

/** The records of a directory's block, as every system lays them out. */
export const recordsIn = (block: Uint8Array): Uint8Array[] =>
  Array.from({ length: PER_BLOCK }, (_, i) => FIRST_RECORD + i * ENTRY).map((at) =>
    block.subarray(at, at + ENTRY),
  );

/** Whether a block could be a directory's, behind its first: entries in use, and nothing else. */
export function isFurtherDirectory(block: Uint8Array): boolean {
  const used = recordsIn(block).filter((entry) => storageOf(entry) !== 0);
  return (
    block.length === BLOCK &&
    numberIn(block, LINKS.blockBefore) >= ROOT &&
    used.length > 0 &&
    used.every(isWellFormed)
  );
}

/** Lower-case flags: bit 15 says that they count, the next are one for each character. */
export function withCase(name: string, flags: number): string {
  if (!(flags & 0x8000)) return name;
  return [...name].map((char, i) => ((flags >> (14 - i)) & 1 ? char.toLowerCase() : char)).join('');
}

/** Date word and time word as local time: years 0–39 are 2000–2039. */
export function timeIn(record: Uint8Array, at: number): string | null {
  const date = record[at]! | (record[at + 1]! << 8);
  const time = record[at + 2]! | (record[at + 3]! << 8);
  if (date === 0) return null;
  const year = date >> 9;
  const [month, day] = [(date >> 5) & 15, date & 31];
  return localTime(year < 40 ? 2000 + year : 1900 + year, month, day, (time >> 8) & 31, time & 63);
}

/** The bytes of a date and time field; zeros for none. Years 1940 to 2039. */
export function timeBytes(local: string | null | undefined): Uint8Array {
  const parts = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}):(\d{2})/.exec(local ?? '');
  const [year = 0, month = 0, day = 0, hour = 0, minute = 0] = parts?.slice(1).map(Number) ?? [];
  if (year < 1940 || year > 2039) return new Uint8Array(4);
  const date = ((year % 100) << 9) | (month << 5) | day;
  return Uint8Array.of(date & 0xff, date >> 8, minute, hour);
}

const FURTHER_BLOCKS = 3;

/** The system's own areas, as every volume of this kind has them. */
export const PRODOS_AREAS: readonly VolumeArea[] = Object.freeze([
  {
    name: said('areas.volumeDirectory'),
    offset: ROOT * BLOCK,
    length: BLOCK,
    layout: { ...LINKS, ...shifted(VOLUME_HEADER_FIELDS, FIRST_RECORD) },
    records: [
      {
        offset: FIRST_RECORD + ENTRY,
        step: ENTRY,
        count: PER_BLOCK - 1,
        each: 'entry',
        layout: ENTRY_FIELDS,
      },
    ],
  },
  {
    name: said('areas.volumeDirectoryFurther'),
    offset: (ROOT + 1) * BLOCK,
    length: FURTHER_BLOCKS * BLOCK,
    layout: LINKS,
  },
  {
    name: said('areas.mapOfFreeBlocks'),
    offset: (ROOT + 1 + FURTHER_BLOCKS) * BLOCK,
    length: BLOCK,
  },
]);
