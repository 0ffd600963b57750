/**
 * The parameter block of FAT volumes (ECMA-107, clause 9; ISO/IEC 9293), and disks too old to have
 * one.
 */

import { bytesIn, numberIn } from '../record';
import {
  BOOT_16_FIELDS,
  BOOT_32_FIELDS,
  BOOT_FIELDS,
  BOOT_SECTOR,
  ENTRY,
  EXTENDED_MARK,
} from './records';

export type FatWidth = 12 | 16 | 32;

/** Where the parts of a volume lie; sectors are the volume's own, clusters count from 2. */
export interface FatGeometry {
  width: FatWidth;
  bytesPerSector: number;
  sectorsPerCluster: number;
  /** First sector of the first table. */
  fatStart: number;
  fatCount: number;
  fatSectors: number;
  rootStart: number;
  /** Entries of the fixed root directory; 0 for FAT32. */
  rootEntries: number;
  /** First cluster of the root directory of FAT32. */
  rootCluster: number;
  dataStart: number;
  totalSectors: number;
  clusters: number;
  media: number;
  /** Label from the parameter block, unpadded; null where there is none. */
  label: string | null;
  /** The only table that is kept up; null where all of them are. */
  activeTable: number | null;
  /** Where the facts come from. */
  from: 'parameter-block' | 'media-byte' | 'backup' | 'contents';
}

export const LOWEST_MEDIA_BYTE = 0xf0;

/** Flags of the widest tables: mirroring is off, and the number of the table in use. */
const NOT_MIRRORED = 0x80;
const ACTIVE_TABLE = 0x0f;

/** Below these numbers of clusters a volume is FAT12, FAT16 (ECMA-107 and common use). */
const FAT12_BELOW = 4085;
const FAT16_BELOW = 65525;

const isPowerOfTwo = (value: number): boolean => value > 0 && (value & (value - 1)) === 0;

const isBetween = (value: number, from: number, to: number): boolean =>
  value >= from && value <= to;

const isSectorSize = (bytes: number): boolean => isPowerOfTwo(bytes) && isBetween(bytes, 128, 4096);

function widthOf(clusters: number): FatWidth {
  if (clusters < FAT12_BELOW) return 12;
  return clusters < FAT16_BELOW ? 16 : 32;
}

/** What a geometry follows from: sizes in sectors, where nothing else is said. */
type FatFacts = Pick<
  FatGeometry,
  | 'bytesPerSector'
  | 'sectorsPerCluster'
  | 'fatStart'
  | 'fatCount'
  | 'fatSectors'
  | 'rootEntries'
  | 'totalSectors'
  | 'media'
  | 'from'
> &
  Partial<Pick<FatGeometry, 'rootCluster' | 'label' | 'activeTable'>> & {
    /** Its root directory is a chain like others. */
    isWide: boolean;
  };

/** Where the parts of a volume lie by these facts; null where none of it is left for files. */
export function laidOut({ isWide, ...facts }: FatFacts): FatGeometry | null {
  const { fatStart, fatCount, fatSectors, rootEntries, bytesPerSector } = facts;
  const rootStart = fatStart + fatCount * fatSectors;
  const dataStart = rootStart + Math.ceil((rootEntries * ENTRY) / bytesPerSector);
  const clusters = Math.floor((facts.totalSectors - dataStart) / facts.sectorsPerCluster);
  if (clusters < 1) return null;
  const width = isWide ? 32 : widthOf(clusters);
  // Only the widest tables have a root directory that is a chain like others.
  if ((width === 32) !== (rootEntries === 0)) return null;
  return {
    label: null,
    rootCluster: 0,
    activeTable: null,
    ...facts,
    width,
    rootStart,
    dataStart,
    clusters,
  };
}

/** The geometry that a boot sector states, or null where it can't be one. */
export function parseBootSector(sector: Uint8Array): FatGeometry | null {
  if (sector.length < BOOT_SECTOR) return null;
  const tableSectors = numberIn(sector, BOOT_FIELDS.tableSectors);
  const isWide = tableSectors === 0;
  const flags = numberIn(sector, BOOT_32_FIELDS.flags);
  const facts: FatFacts = {
    isWide,
    from: 'parameter-block',
    bytesPerSector: numberIn(sector, BOOT_FIELDS.sectorBytes),
    sectorsPerCluster: numberIn(sector, BOOT_FIELDS.clusterSectors),
    fatStart: numberIn(sector, BOOT_FIELDS.reservedSectors),
    fatCount: numberIn(sector, BOOT_FIELDS.tables),
    fatSectors: tableSectors || numberIn(sector, BOOT_32_FIELDS.tableSectorsLarge),
    rootEntries: numberIn(sector, BOOT_FIELDS.rootEntries),
    totalSectors:
      numberIn(sector, BOOT_FIELDS.sectors) || numberIn(sector, BOOT_FIELDS.sectorsLarge),
    media: numberIn(sector, BOOT_FIELDS.mediaByte),
    rootCluster: isWide ? numberIn(sector, BOOT_32_FIELDS.rootCluster) : 0,
    activeTable: isWide && flags & NOT_MIRRORED ? flags & ACTIVE_TABLE : null,
    label: labelOf(sector, isWide ? BOOT_32_FIELDS : BOOT_16_FIELDS),
  };
  const isPossible =
    isSectorSize(facts.bytesPerSector) &&
    isPowerOfTwo(facts.sectorsPerCluster) &&
    isBetween(facts.fatCount, 1, 4) &&
    [facts.fatStart, facts.fatSectors, facts.totalSectors].every((count) => count > 0) &&
    facts.media >= LOWEST_MEDIA_BYTE;
  return isPossible ? laidOut(facts) : null;
}

/** Label of an extended parameter block, where there is one. */
function labelOf(
  sector: Uint8Array,
  { extendedMark, label: field }: typeof BOOT_16_FIELDS | typeof BOOT_32_FIELDS,
): string | null {
  if (numberIn(sector, extendedMark) !== EXTENDED_MARK) return null;
  const label = String.fromCharCode(...bytesIn(sector, field)).trimEnd();
  return label === '' || label === 'NO NAME' || /[^\x20-\x7e]/.test(label) ? null : label;
}

/**
 * Disks without a parameter block: media byte, sectors in all, sectors a cluster, sectors a table,
 * root entries.
 */
const OLD_DISKS: readonly [number, number, number, number, number][] = [
  [0xfe, 320, 1, 1, 64],
  [0xfc, 360, 1, 2, 64],
  [0xff, 640, 2, 1, 112],
  [0xfd, 720, 2, 2, 112],
];

/** Bytes from a disk's start within which both tables of such a disk begin. */
export const OLD_DISK_HEAD = 4 * BOOT_SECTOR;

/**
 * The geometry that the media byte and the size imply, or null. `head` is the disk's start: either
 * of the two tables will do.
 */
export function geometryOfMediaByte(head: Uint8Array, size: number): FatGeometry | null {
  const begins = (media: number, sector: number) =>
    [media, 0xff, 0xff].every((byte, i) => head[sector * BOOT_SECTOR + i] === byte);
  const old = OLD_DISKS.find(
    ([media, sectors, , fatSectors]) =>
      size === sectors * BOOT_SECTOR && (begins(media, 1) || begins(media, 1 + fatSectors)),
  );
  if (!old) return null;
  const [media, totalSectors, sectorsPerCluster, fatSectors, rootEntries] = old;
  return laidOut({
    isWide: false,
    from: 'media-byte',
    bytesPerSector: BOOT_SECTOR,
    sectorsPerCluster,
    fatStart: 1,
    fatCount: 2,
    fatSectors,
    rootEntries,
    totalSectors,
    media,
  });
}
