/** Sectors, entries and types of 16-sector catalogue volumes. */
import { said } from '@/core/said';
import {
  bytesIn,
  highText,
  numberIn,
  raw,
  trackSector,
  u16,
  u8,
  type RecordLayout,
  type VolumeArea,
} from '../record';

export const SECTOR = 256;

export const SECTORS = 16;

/** Disks of the usual drive have 35 tracks. */
export const TRACKS = 35;

export const IMAGE_BYTES = TRACKS * SECTORS * SECTOR;

/** Carries the table of contents in its sector 0 and the catalogue from sector 15 down. */
export const CONTENTS_TRACK = 17;

/** Byte of the image at which the table of contents begins. */
export const CONTENTS = CONTENTS_TRACK * SECTORS * SECTOR;

export const LAST_SECTOR = SECTORS - 1;

/** Track and sector pairs in a sector of a file's list. */
export const PAIRS = 122;
export const FIRST_PAIR = 0x0c;

export const CONTENTS_FIELDS = Object.freeze({
  catalogueSector: trackSector(1),
  release: u8(3),
  volumeNumber: u8(6),
  pairsAList: u8(0x27),
  lastTrackGiven: u8(0x30),
  direction: raw(0x31, 1),
  tracks: u8(0x34),
  trackSectors: u8(0x35),
  sectorBytes: u16(0x36),
}) satisfies RecordLayout;

/** Of a track: two bytes of bits, sectors 15 to 8 in the first, and two that say nothing. */
const FIRST_TRACK_MAP = 0x38;
const TRACK_MAP_BYTES = 4;
const TRACKS_MAPPED = 50;
const TRACK_MAP = Object.freeze({ map: raw(0, 2) }) satisfies RecordLayout;

/** Sectors of the catalogue and of lists lead to the next of their kind. */
export const LINK = Object.freeze({ nextSector: trackSector(1) }) satisfies RecordLayout;

export const ENTRY = 35;
export const FIRST_ENTRY = 0x0b;
export const PER_SECTOR = 7;
export const NAME_BYTES = 30;

export const ENTRY_FIELDS = Object.freeze({
  firstList: trackSector(0),
  fileType: raw(2, 1),
  name: highText(3, NAME_BYTES),
  sectors: u16(33),
}) satisfies RecordLayout;

/** Stands for the track of the first list, which moves into the name's last place. */
export const DELETED = 0xff;
export const MOVED_TRACK = ENTRY_FIELDS.name.at + NAME_BYTES - 1;

/** Bit of the type byte. */
export const LOCKED = 0x80;

export const TYPES: Readonly<Record<number, string>> = Object.freeze({
  0: 'T',
  1: 'I',
  2: 'A',
  4: 'B',
  8: 'S',
  16: 'R',
  32: 'AA',
  64: 'BB',
});

/** Bytes before the content: an address and a length of binary files, a length of BASIC ones. */
export const headOf = (type: number): number => (type === 4 ? 4 : type === 1 || type === 2 ? 2 : 0);

/** Whether an entry that is in use could be one: a list on the disk, a type, a name that prints. */
export function isWellFormed(entry: Uint8Array, tracks: number): boolean {
  const type = numberIn(entry, ENTRY_FIELDS.fileType) & ~LOCKED;
  return (
    entry[0]! < tracks &&
    entry[1]! < SECTORS &&
    TYPES[type] !== undefined &&
    bytesIn(entry, ENTRY_FIELDS.name).every((byte) => byte >= 0x80)
  );
}

/** The entries of a sector of the catalogue. */
export const entriesIn = (sector: Uint8Array): Uint8Array[] =>
  Array.from({ length: PER_SECTOR }, (_, i) => FIRST_ENTRY + i * ENTRY).map((at) =>
    sector.subarray(at, at + ENTRY),
  );

export const trackMapAt = (track: number): number => FIRST_TRACK_MAP + track * TRACK_MAP_BYTES;

/** The system's own areas, as every disk of this kind has them. */
export const CATALOGUE16_AREAS: readonly VolumeArea[] = Object.freeze([
  {
    name: said('areas.tableOfContents'),
    offset: CONTENTS,
    length: SECTOR,
    layout: CONTENTS_FIELDS,
    records: [
      {
        offset: FIRST_TRACK_MAP,
        step: TRACK_MAP_BYTES,
        count: TRACKS_MAPPED,
        each: 'track',
        layout: TRACK_MAP,
      },
    ],
  },
  {
    name: said('areas.catalogue'),
    offset: CONTENTS + LAST_SECTOR * SECTOR,
    length: SECTOR,
    layout: LINK,
    records: [
      {
        offset: FIRST_ENTRY,
        step: ENTRY,
        count: PER_SECTOR,
        each: 'entry',
        layout: ENTRY_FIELDS,
      },
    ],
  },
]);
