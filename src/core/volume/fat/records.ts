/** Boot sectors and directory entries of FAT volumes (ECMA-107, clauses 9 and 11; ISO/IEC 9293). */
import type { ByteSource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import { localTime } from '../local-time';
import {
  dateTime,
  numberIn,
  raw,
  text,
  u16,
  u32,
  u8,
  type RecordLayout,
  type VolumeArea,
} from '../record';

export const BOOT_SECTOR = 512;

export const BOOT_FIELDS = Object.freeze({
  jump: raw(0, 3),
  formattedBy: text(3, 8),
  sectorBytes: u16(0x0b),
  clusterSectors: u8(0x0d),
  reservedSectors: u16(0x0e),
  tables: u8(0x10),
  rootEntries: u16(0x11),
  sectors: u16(0x13),
  mediaByte: raw(0x15, 1),
  tableSectors: u16(0x16),
  trackSectors: u16(0x18),
  heads: u16(0x1a),
  hiddenSectors: u32(0x1c),
  sectorsLarge: u32(0x20),
  bootMark: raw(0x1fe, 2),
}) satisfies RecordLayout;

/** What follows in FAT12 and FAT16 where `extendedMark` says so. */
export const BOOT_16_FIELDS = Object.freeze({
  driveNumber: raw(0x24, 1),
  extendedMark: raw(0x26, 1),
  serialNumber: raw(0x27, 4),
  label: text(0x2b, 11),
  namedFilesystem: text(0x36, 8),
}) satisfies RecordLayout;

export const BOOT_32_FIELDS = Object.freeze({
  tableSectorsLarge: u32(0x24),
  flags: raw(0x28, 2),
  version: u16(0x2a),
  rootCluster: u32(0x2c),
  freeCountsSector: u16(0x30),
  bootCopySector: u16(0x32),
  driveNumber: raw(0x40, 1),
  extendedMark: raw(0x42, 1),
  serialNumber: raw(0x43, 4),
  label: text(0x47, 11),
  namedFilesystem: text(0x52, 8),
}) satisfies RecordLayout;

/** The serial number, the label and the name of the file system follow. */
export const EXTENDED_MARK = 0x29;

/** The serial number alone follows. */
const SERIAL_ONLY_MARK = 0x28;

/** Bytes of a directory entry. */
export const ENTRY = 32;

export const ENTRY_FIELDS = Object.freeze({
  name: text(0, 11),
  attributes: raw(11, 1),
  nameCase: raw(12, 1),
  madeHundredths: u8(13),
  made: raw(14, 4),
  firstClusterHigh: u16(20),
  changed: dateTime(22),
  firstCluster: u16(26),
  bytes: u32(28),
}) satisfies RecordLayout;

/** First bytes of entries: behind one that was never used there is none. */
export const NEVER_USED = 0;
export const DELETED = 0xe5;
/** Stands for a first letter that is E5h. */
export const ESCAPED_E5 = 0x05;

export const READ_ONLY = 0x01;
export const LABEL = 0x08;
export const DIRECTORY = 0x10;
export const ARCHIVE = 0x20;
/** All of the first four attributes: a part of a long name. */
export const LONG_NAME = 0x0f;
/** Bit of the number of the last part of a long name, which stands first. */
export const LAST_PART = 0x40;

/** Date and time words (clause 11.7) as local time, or null where they name no moment. */
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

/** The bytes of a date and time field, the time first; zeros for none. Years 1980 to 2107. */
export function timeBytes(local: string | null): Uint8Array {
  const parts = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}):(\d{2}):(\d{2})/.exec(local ?? '');
  const [year = 0, month = 0, day = 0, hour = 0, minute = 0, second = 0] =
    parts?.slice(1).map(Number) ?? [];
  if (year < 1980 || year > 2107) return new Uint8Array(4);
  const date = ((year - 1980) << 9) | (month << 5) | day;
  const time = (hour << 11) | (minute << 5) | (second >> 1);
  return Uint8Array.of(time & 0xff, time >> 8, date & 0xff, date >> 8);
}

/** Of a root directory no more is laid open than this. */
const MOST_ROOT_BYTES = 64 * 1024;

const SECTOR_SIZES = [128, 256, 512, 1024, 2048, 4096] as const;

function bootFields(boot: Uint8Array): RecordLayout {
  if (numberIn(boot, BOOT_FIELDS.tableSectors) === 0) return { ...BOOT_FIELDS, ...BOOT_32_FIELDS };
  const mark = numberIn(boot, BOOT_16_FIELDS.extendedMark);
  const isExtended = mark === EXTENDED_MARK || mark === SERIAL_ONLY_MARK;
  return isExtended ? { ...BOOT_FIELDS, ...BOOT_16_FIELDS } : BOOT_FIELDS;
}

/** The system's own areas, as the boot sector of this volume says. */
export async function fatAreas(source: ByteSource): Promise<VolumeArea[]> {
  const boot = await source.read(0, BOOT_SECTOR);
  if (boot.length < BOOT_SECTOR) return [];
  const bootSector = { name: said('areas.bootSector'), offset: 0, length: BOOT_SECTOR };
  const sector = numberIn(boot, BOOT_FIELDS.sectorBytes);
  // Disks without a parameter block have code there.
  if (!(SECTOR_SIZES as readonly number[]).includes(sector))
    return [{ ...bootSector, layout: { jump: BOOT_FIELDS.jump } }];
  const tableSectors =
    numberIn(boot, BOOT_FIELDS.tableSectors) || numberIn(boot, BOOT_32_FIELDS.tableSectorsLarge);
  const tableBytes = tableSectors * sector;
  const first = numberIn(boot, BOOT_FIELDS.reservedSectors) * sector;
  const tables = Math.min(4, numberIn(boot, BOOT_FIELDS.tables));
  const rootBytes = Math.min(MOST_ROOT_BYTES, numberIn(boot, BOOT_FIELDS.rootEntries) * ENTRY);
  const root = rootArea(first + tables * tableBytes, rootBytes);
  return [
    { ...bootSector, layout: bootFields(boot) },
    ...Array.from({ length: tables }, (_, i) => ({
      name: said('areas.fat', { number: i + 1 }),
      offset: first + i * tableBytes,
      length: tableBytes,
      layout: { mediaByte: raw(0, 1) },
    })),
    ...(rootBytes > 0 ? [root] : []),
  ];
}

const rootArea = (offset: number, length: number): VolumeArea => ({
  name: said('areas.rootDirectory'),
  offset,
  length,
  records: [{ offset: 0, step: ENTRY, count: length / ENTRY, each: 'entry', layout: ENTRY_FIELDS }],
});
