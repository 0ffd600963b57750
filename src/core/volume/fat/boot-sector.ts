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
  /** Where the facts come from. */
  from: 'parameter-block' | 'media-byte';
}

/** Below these numbers of clusters a volume is FAT12, FAT16 (ECMA-107 and common use). */
const FAT12_BELOW = 4085;
const FAT16_BELOW = 65525;

const isPowerOfTwo = (value: number) => value > 0 && (value & (value - 1)) === 0;

const isBetween = (value: number, from: number, to: number): boolean =>
  value >= from && value <= to;

const isSectorSize = (bytes: number): boolean => isPowerOfTwo(bytes) && isBetween(bytes, 128, 4096);

function widthOf(clusters: number): FatWidth {
  if (clusters < FAT12_BELOW) return 12;
  return clusters < FAT16_BELOW ? 16 : 32;
}

/** The geometry that a boot sector states, or null with a reason where it can't be one. */
export function parseBootSector(sector: Uint8Array): FatGeometry | null {
  if (sector.length < BOOT_SECTOR) return null;
  const bytesPerSector = numberIn(sector, BOOT_FIELDS.sectorBytes);
  const sectorsPerCluster = numberIn(sector, BOOT_FIELDS.clusterSectors);
  const reserved = numberIn(sector, BOOT_FIELDS.reservedSectors);
  const fatCount = numberIn(sector, BOOT_FIELDS.tables);
  const rootEntries = numberIn(sector, BOOT_FIELDS.rootEntries);
  const totalSectors =
    numberIn(sector, BOOT_FIELDS.sectors) || numberIn(sector, BOOT_FIELDS.sectorsLarge);
  const media = numberIn(sector, BOOT_FIELDS.mediaByte);
  const fatSectors16 = numberIn(sector, BOOT_FIELDS.tableSectors);
  const fatSectors = fatSectors16 || numberIn(sector, BOOT_32_FIELDS.tableSectorsLarge);
  const isPossible =
    isSectorSize(bytesPerSector) &&
    isPowerOfTwo(sectorsPerCluster) &&
    isBetween(fatCount, 1, 4) &&
    [reserved, fatSectors, totalSectors].every((count) => count > 0) &&
    media >= 0xf0;
  if (!isPossible) return null;
  const rootStart = reserved + fatCount * fatSectors;
  const dataStart = rootStart + Math.ceil((rootEntries * ENTRY) / bytesPerSector);
  const clusters = Math.floor((totalSectors - dataStart) / sectorsPerCluster);
  if (clusters < 1) return null;
  const width = fatSectors16 === 0 ? 32 : widthOf(clusters);
  // Only the widest tables have a root directory that is a chain like others.
  if ((width === 32) !== (rootEntries === 0)) return null;
  return {
    width,
    bytesPerSector,
    sectorsPerCluster,
    fatStart: reserved,
    fatCount,
    fatSectors,
    rootStart,
    rootEntries,
    dataStart,
    totalSectors,
    clusters,
    media,
    rootCluster: width === 32 ? numberIn(sector, BOOT_32_FIELDS.rootCluster) : 0,
    label: labelOf(sector, width === 32 ? BOOT_32_FIELDS : BOOT_16_FIELDS),
    from: 'parameter-block',
  };
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

/**
 * The geometry that the first bytes of the table and the size imply, or null. `table` starts at
 * byte 512.
 */
export function geometryOfMediaByte(table: Uint8Array, size: number): FatGeometry | null {
  const old = OLD_DISKS.find(([media, sectors]) => table[0] === media && size === sectors * 512);
  if (!old || table[1] !== 0xff || table[2] !== 0xff) return null;
  const [media, totalSectors, sectorsPerCluster, fatSectors, rootEntries] = old;
  const rootStart = 1 + 2 * fatSectors;
  const dataStart = rootStart + (rootEntries * ENTRY) / BOOT_SECTOR;
  return {
    width: 12,
    bytesPerSector: 512,
    sectorsPerCluster,
    fatStart: 1,
    fatCount: 2,
    fatSectors,
    rootStart,
    rootEntries,
    rootCluster: 0,
    dataStart,
    totalSectors,
    clusters: Math.floor((totalSectors - dataStart) / sectorsPerCluster),
    media,
    label: null,
    from: 'media-byte',
  };
}
