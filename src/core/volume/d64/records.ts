/** Sectors, entries and maps of the `.d64` family: what reader, writer and listing of bytes go by. */
import { said } from '@/core/said';
import {
  bytesIn,
  d64Text,
  raw,
  trackSector,
  u16,
  u8,
  type RecordLayout,
  type VolumeArea,
} from '../record';
import {
  SIZES,
  SECOND_SIDE_TRACK,
  SECTOR,
  SIDE_TRACKS,
  blockOf,
  type D64Geometry,
  type D64Kind,
} from './geometry';

/** Bytes of contents in a sector of a chain, behind the link to the next. */
export const DATA = 254;

/** Where a sector of a chain says what comes next; track 0 is the end. */
const LINK = Object.freeze({ nextSector: trackSector(0) }) satisfies RecordLayout;

export const ENTRY = 32;

export const PER_SECTOR = SECTOR / ENTRY;

export const NAME_BYTES = 16;

export const ENTRY_FIELDS = Object.freeze({
  fileType: raw(2, 1),
  firstSector: trackSector(3),
  name: d64Text(5, NAME_BYTES),
  sideSector: trackSector(21),
  recordLength: u8(23),
  blocks: u16(30),
}) satisfies RecordLayout;

/** File types, by their number in the low half of the type byte. */
export const TYPES = ['DEL', 'SEQ', 'PRG', 'USR', 'REL', 'CBM'] as const;
export const REL = 4;
export const PARTITION = 5;

/** Bits of the type byte. */
export const CLOSED = 0x80;
export const LOCKED = 0x40;

export const typeIn = (entry: Uint8Array): number => entry[ENTRY_FIELDS.fileType.at]! & 0x0f;

/** A sector that lists side sectors has this in its third byte, and up to 126 of them behind it. */
const SUPER_SIDE_MARK = 0xfe;
const SIDES_LISTED = 126;

/** The links of a sector of sides: to the groups it lists, and to the next sector of its own. */
export function sideLinks(bytes: Uint8Array): [track: number, sector: number][] {
  const links: [number, number][] = [];
  if (bytes[2] === SUPER_SIDE_MARK)
    for (let i = 0; i < SIDES_LISTED; i++)
      if (bytes[3 + i * 2] !== 0) links.push([bytes[3 + i * 2]!, bytes[4 + i * 2]!]);
  if (bytes[0] !== 0) links.push([bytes[0]!, bytes[1]!]);
  return links;
}

/** Header and map of one sector, on disks of 35 tracks a side. */
export const HEADER_FIELDS = Object.freeze({
  directorySector: trackSector(0),
  format: d64Text(2, 1),
  diskName: d64Text(0x90, NAME_BYTES),
  id: d64Text(0xa2, 2),
  dosVersion: d64Text(0xa5, 2),
}) satisfies RecordLayout;

/** The same sector of two-sided disks: counts of free sectors whose bits stand on track 53. */
export const TWO_SIDED_FIELDS = Object.freeze({
  ...HEADER_FIELDS,
  twoSides: raw(3, 1),
  freeOnSecondSide: raw(0xdd, SIDE_TRACKS),
}) satisfies RecordLayout;

/** Header of disks of 80 tracks, whose maps are sectors of their own. */
export const HEADER_81_FIELDS = Object.freeze({
  directorySector: trackSector(0),
  format: d64Text(2, 1),
  diskName: d64Text(4, NAME_BYTES),
  id: d64Text(0x16, 2),
  dosVersion: d64Text(0x19, 2),
}) satisfies RecordLayout;

const MAP_81_FIELDS = Object.freeze({
  nextSector: trackSector(0),
  dosVersion: d64Text(2, 1),
  id: d64Text(4, 2),
}) satisfies RecordLayout;

/** Of a track: how many sectors are free, and a bit for each. */
const TRACK_MAP = Object.freeze({ free: u8(0), map: raw(1, 3) }) satisfies RecordLayout;
const TRACK_MAP_81 = Object.freeze({ free: u8(0), map: raw(1, 5) }) satisfies RecordLayout;

/** Bytes that a track takes in the map, and where the first one's stand. */
export const TRACK_MAP_BYTES = 4;
export const TRACK_MAP_81_BYTES = 6;
export const FIRST_TRACK_MAP_81 = 0x10;
export const TRACKS_A_MAP_81 = 40;
export const SECOND_SIDE_MAP_BYTES = 3;

/** A program begins with the address it is loaded at. */
export const LOAD_ADDRESS = Object.freeze({ loadsAt: raw(0, 2) }) satisfies RecordLayout;

export const labelFieldOf = (kind: D64Kind) =>
  kind === 'd81' ? HEADER_81_FIELDS.diskName : HEADER_FIELDS.diskName;

/** What a header says of its kind, in its format byte: A of one or two sides, D of 80 tracks. */
export const FORMAT_BYTES: Readonly<Record<D64Kind, number>> = Object.freeze({
  d64: 0x41,
  d71: 0x41,
  d81: 0x44,
});

export function ones(bytes: Uint8Array): number {
  let count = 0;
  for (const byte of bytes) for (let bits = byte; bits; bits &= bits - 1) count++;
  return count;
}

const placeOf = (geometry: D64Geometry, track: number, sector: number) =>
  blockOf(geometry, track, sector) * SECTOR;

const directoryOf = (geometry: D64Geometry): VolumeArea => ({
  name: said('areas.directory'),
  offset: placeOf(geometry, geometry.directoryTrack, geometry.directorySector),
  length: SECTOR,
  layout: LINK,
  records: [{ offset: 0, step: ENTRY, count: PER_SECTOR, each: 'entry', layout: ENTRY_FIELDS }],
});

const headerOf = (geometry: D64Geometry): VolumeArea => ({
  name: said('areas.mapAndHeader'),
  offset: placeOf(geometry, geometry.directoryTrack, 0),
  length: SECTOR,
  layout: geometry.kind === 'd71' ? TWO_SIDED_FIELDS : HEADER_FIELDS,
  records: [
    {
      offset: TRACK_MAP_BYTES,
      step: TRACK_MAP_BYTES,
      count: SIDE_TRACKS,
      each: 'track',
      layout: TRACK_MAP,
    },
  ],
});

const secondSideOf = (geometry: D64Geometry): VolumeArea => ({
  name: said('areas.mapOfSecondSide'),
  offset: placeOf(geometry, SECOND_SIDE_TRACK, 0),
  length: SECTOR,
  records: [
    {
      offset: 0,
      step: SECOND_SIDE_MAP_BYTES,
      count: SIDE_TRACKS,
      each: 'track',
      layout: { map: raw(0, SECOND_SIDE_MAP_BYTES) },
    },
  ],
});

const mapOf81 = (geometry: D64Geometry, sector: number, first: number): VolumeArea => ({
  name: said('areas.mapOfTracks', { first, last: first + TRACKS_A_MAP_81 - 1 }),
  offset: placeOf(geometry, geometry.directoryTrack, sector),
  length: SECTOR,
  layout: MAP_81_FIELDS,
  records: [
    {
      offset: FIRST_TRACK_MAP_81,
      step: TRACK_MAP_81_BYTES,
      count: TRACKS_A_MAP_81,
      each: 'track',
      layout: TRACK_MAP_81,
    },
  ],
});

/** Whether an image of 80 tracks has its header where its kind keeps it. */
export function hasHeader81(image: Uint8Array): boolean {
  const geometry = SIZES.find(([, { kind }]) => kind === 'd81')![1];
  const { directoryTrack, directorySector } = geometry;
  const at = placeOf(geometry, directoryTrack, 0);
  const [track, sector] = bytesIn(image, HEADER_81_FIELDS.directorySector, at);
  const [format] = bytesIn(image, HEADER_81_FIELDS.format, at);
  return track === directoryTrack && sector === directorySector && format === FORMAT_BYTES.d81;
}

/** The system's own areas, as every disk of a kind has them. */
export function d64Areas(kind: D64Kind): VolumeArea[] {
  const geometry = SIZES.find(([, each]) => each.kind === kind)![1];
  if (kind === 'd64') return [headerOf(geometry), directoryOf(geometry)];
  if (kind === 'd71') return [headerOf(geometry), directoryOf(geometry), secondSideOf(geometry)];
  return [
    {
      name: said('areas.header'),
      offset: placeOf(geometry, geometry.directoryTrack, 0),
      length: SECTOR,
      layout: HEADER_81_FIELDS,
    },
    mapOf81(geometry, 1, 1),
    mapOf81(geometry, 2, 1 + TRACKS_A_MAP_81),
    directoryOf(geometry),
  ];
}
