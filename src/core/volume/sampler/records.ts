/** Partition headers, volumes, entries and file headers of partitioned sampler disks. */
import { said } from '@/core/said';
import {
  raw,
  s8,
  samplerText,
  u16,
  u24,
  u32,
  u8,
  type RecordLayout,
  type VolumeArea,
} from '../record';

export const BLOCK = 0x2000;
export const HEADER_BLOCKS = 3;

export const PARTITION_HEADER = Object.freeze({ blocks: u16(0) }) satisfies RecordLayout;

/** Of volumes, in a partition's header. */
export const VOLUME_TABLE = 0xca;
export const VOLUMES = 100;
export const VOLUME = 16;
export const NAME_BYTES = 12;

export const VOLUME_FIELDS = Object.freeze({
  name: samplerText(0, NAME_BYTES),
  fileType: u8(12),
  loadNumber: u8(13),
  firstBlock: u16(14),
}) satisfies RecordLayout;

/** Entries that a directory of each type of volume holds. */
export const CAPACITY: Readonly<Record<number, number>> = Object.freeze({ 1: 126, 3: 510, 7: 510 });

/** What follows each block, a word a block. */
export const CHAIN_TABLE = 0x70a;
export const END_OF_LIST = 0x8000;
export const SYSTEM = 0x4000;
/** What ends a chain that is written here. */
export const LAST_BLOCK = 0xc000;

export const ENTRY = 24;
export const PER_BLOCK = 341;

export const ENTRY_FIELDS = Object.freeze({
  name: samplerText(0, NAME_BYTES),
  fileType: u8(16),
  bytes: u24(0x11),
  firstBlock: u16(0x14),
}) satisfies RecordLayout;

/** Of names, by their codes. */
export const SAMPLER_LETTERS = '0123456789 ABCDEFGHIJKLMNOPQRSTUVWXYZ#+-.';

export const isName = (bytes: Uint8Array): boolean =>
  bytes.every((byte) => byte < SAMPLER_LETTERS.length);

export const nameOf = (bytes: Uint8Array): string =>
  Array.from(
    bytes,
    (byte) => SAMPLER_LETTERS[byte] ?? `‹${byte.toString(16).toUpperCase().padStart(2, '0')}›`,
  )
    .join('')
    .trimEnd();

/** A name as it is recorded. */
export const nameBytes = (name: string): Uint8Array =>
  Uint8Array.from(name.padEnd(NAME_BYTES), (letter) => SAMPLER_LETTERS.indexOf(letter));

/** How samples and programs begin, by their first byte. */
export const SAMPLE_HEADER = Object.freeze({
  kind: u8(0),
  rateCode: u8(1),
  rootNote: u8(2),
  name: samplerText(3, NAME_BYTES),
  isValid: raw(15, 1),
  loops: u8(16),
  playback: u8(19),
  cents: s8(20),
  semitones: s8(21),
  samples: u32(26),
  start: u32(30),
  end: u32(34),
  rateInHz: u16(138),
}) satisfies RecordLayout;

export const PROGRAM_HEADER = Object.freeze({
  kind: u8(0),
  name: samplerText(3, NAME_BYTES),
  program: u8(15),
  channel: u8(16),
  lowKey: u8(19),
  highKey: u8(20),
  keyGroups: u8(42),
}) satisfies RecordLayout;

/** The two kinds of header: the top bit of an entry's type says which its file has. */
export const FILE_HEADER = Object.freeze({ usual: 150, larger: 192 });
export const LARGER = 0x80;

/** How a sample's loops stand in its header. */
export const LOOP_TABLE = 0x26;
export const LOOP = 12;
export const MOST_LOOPS = 8;
/** A time that stands for as long as a key is held. */
export const HOLD_MS = 9999;
/** What a sample's header says where it holds one. */
export const VALID = 0x80;

export const LOOP_FIELDS = Object.freeze({
  loopEnd: u32(0),
  fineLength: u16(4),
  coarseLength: u32(6),
  timeInMs: u16(10),
}) satisfies RecordLayout;

/** Of a key group, which is as long as its program's header. */
export const KEY_GROUP_FIELDS = Object.freeze({
  kind: u8(0),
  lowKey: u8(3),
  highKey: u8(4),
  cents: s8(5),
  semitones: s8(6),
}) satisfies RecordLayout;

/** Velocity zones of a key group. */
export const ZONE_TABLE = 0x22;
export const ZONE = 24;
export const ZONES = 4;

export const ZONE_FIELDS = Object.freeze({
  name: samplerText(0, NAME_BYTES),
  lowVelocity: u8(12),
  highVelocity: u8(13),
  cents: s8(14),
  semitones: s8(15),
  loudness: s8(16),
  filterOffset: s8(17),
  pan: s8(18),
  loopMode: u8(19),
}) satisfies RecordLayout;

/** The first byte of a file's header, and of a key group. */
export const FILE_MARK = Object.freeze({ program: 1, keyGroup: 2, sample: 3 });

/** The system's own areas at the start of the first partition. */
export const SAMPLER_AREAS: readonly VolumeArea[] = Object.freeze([
  { name: said('areas.partitionHeader'), offset: 0, length: 256, layout: PARTITION_HEADER },
  {
    name: said('areas.volumeTable'),
    offset: VOLUME_TABLE,
    length: VOLUMES * VOLUME,
    records: [{ offset: 0, step: VOLUME, count: VOLUMES, each: 'volume', layout: VOLUME_FIELDS }],
  },
]);
