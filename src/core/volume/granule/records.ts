/** Granules, their table and entries (35 × 18 × 256, 68 granules of nine sectors). */
import { said } from '@/core/said';
import { raw, text, u16be, u8, type RecordLayout, type VolumeArea } from '../record';

export const SECTOR = 256;
const TRACK = 18 * SECTOR;
export const GRANULES = 68;
export const GRANULE = 9 * SECTOR;
export const SYSTEM_TRACK = 17;
export const GRANULE_BYTES = 35 * TRACK;

/** Bytes of the image at which the table and the directory begin. */
export const TABLE = SYSTEM_TRACK * TRACK + SECTOR;
export const DIRECTORY = SYSTEM_TRACK * TRACK + 2 * SECTOR;

/** In the table, and as an entry's first byte where the directory ends. */
export const FREE = 0xff;
/** A last granule's byte: with how many of its sectors are in use, 0 to 9. */
export const LAST = 0xc0;
export const GRANULE_SECTORS = 9;

export const ENTRY = 32;
export const ENTRIES = 72;

export const ENTRY_FIELDS = Object.freeze({
  name: text(0, 8),
  extension: text(8, 3),
  fileType: u8(11),
  isAscii: raw(12, 1),
  firstGranule: u8(13),
  inLastSector: u16be(14),
}) satisfies RecordLayout;

/** First byte of an entry whose file was removed. */
export const DELETED = 0;

/** The track that a granule lies on. */
export const trackOf = (granule: number): number =>
  (granule >> 1) + (granule >= SYSTEM_TRACK * 2 ? 1 : 0);

/** Byte of the image at which a granule begins. */
export const placeOf = (granule: number): number =>
  trackOf(granule) * TRACK + (granule & 1) * GRANULE;

/** How programs and blocks of machine code begin. */
export const PROGRAM_FILE = Object.freeze({
  programMark: raw(0, 1),
  length: u16be(1),
}) satisfies RecordLayout;

export const BLOCK_FILE = Object.freeze({
  blockMark: raw(0, 1),
  length: u16be(1),
  loadsAt: raw(3, 2),
}) satisfies RecordLayout;

/** The system's own areas, as every disk of this kind has them. */
export const GRANULE_AREAS: readonly VolumeArea[] = Object.freeze([
  {
    name: said('areas.granuleTable'),
    offset: TABLE,
    length: SECTOR,
    layout: { granules: raw(0, GRANULES) },
  },
  {
    name: said('areas.directory'),
    offset: DIRECTORY,
    length: SECTOR,
    records: [
      { offset: 0, step: ENTRY, count: SECTOR / ENTRY, each: 'entry', layout: ENTRY_FIELDS },
    ],
  },
]);
