/**
 * The geometry of a FAT volume whose boot sector is lost: by its copy (FAT32), or by where two equal
 * tables stand, how many clusters they are made for, and which of the possible layouts the
 * directories and chains agree with.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { numberIn } from '../record';
import {
  LOWEST_MEDIA_BYTE,
  laidOut,
  parseBootSector,
  type FatGeometry,
  type FatWidth,
} from './boot-sector';
import { isDirectory, isLabel, isPlausibleEntry, parseDirectory } from './directory';
import { FAT_FORMATS } from './format';
import { BOOT_32_FIELDS, BOOT_SECTOR, ENTRY } from './records';
import { END, unpackTable } from './table';

/** Sectors that copies of a boot sector, and the first table, are looked for in. */
const MOST_RESERVED = 64;

/** Sectors that a table has at most (FAT16): the first bytes of the second tell its end. */
const MOST_TABLE_SECTORS = 256;

/** Sectors that may begin a table, of which the likeliest stand first. */
const MOST_STARTS = 16;

/** The most first: a root directory that were longer than it is would reach into files. */
const ROOT_ENTRIES = [1024, 512, 256, 240, 224, 192, 128, 112, 64] as const;
const CLUSTER_SECTORS = [1, 2, 4, 8, 16, 32, 64, 128] as const;

/** Directory entries looked at to weigh a layout. */
const MOST_WEIGHED = 64;

/** The copy that FAT32 keeps of its boot sector. */
async function byBackup(source: ByteSource): Promise<FatGeometry | null> {
  const reserved = await source.read(0, MOST_RESERVED * BOOT_SECTOR);
  for (let sector = 1; (sector + 1) * BOOT_SECTOR <= reserved.length; sector++) {
    const bytes = reserved.subarray(sector * BOOT_SECTOR, (sector + 1) * BOOT_SECTOR);
    const stated = parseBootSector(bytes);
    if (stated?.width === 32 && numberIn(bytes, BOOT_32_FIELDS.bootCopySector) === sector)
      return { ...stated, from: 'backup' };
  }
  return null;
}

/** How wide the entries of a table are that begins at `at`; null where none does. */
function widthAt(bytes: Uint8Array, at: number): FatWidth | null {
  if (bytes[at]! < LOWEST_MEDIA_BYTE || bytes[at + 1] !== 0xff || bytes[at + 2] !== 0xff)
    return null;
  return bytes[at + 3] === 0xff ? 16 : 12;
}

interface Tables {
  width: FatWidth;
  media: number;
  start: number;
  sectors: number;
}

/** Sectors that begin like a table. What was erased to ones does too, and is none. */
function tableStarts(bytes: Uint8Array): number[] {
  const starts: number[] = [];
  for (let at = 0; at < bytes.length && starts.length < MOST_STARTS; at += BOOT_SECTOR)
    if (widthAt(bytes, at) !== null && !bytes.subarray(at, at + 16).every((byte) => byte === 0xff))
      starts.push(at / BOOT_SECTOR);
  return starts;
}

/** Where a table may stand: each start with the next that begins alike. */
function tablesIn(bytes: Uint8Array): Tables[] {
  const starts = tableStarts(bytes);
  const headOf = (sector: number) =>
    String(bytes.subarray(sector * BOOT_SECTOR, sector * BOOT_SECTOR + 4));
  return starts
    .filter((sector) => sector <= MOST_RESERVED)
    .flatMap((start) => {
      const next = starts.find((other) => other > start && headOf(other) === headOf(start));
      if (next === undefined) return [];
      const at = start * BOOT_SECTOR;
      return [{ width: widthAt(bytes, at)!, media: bytes[at]!, start, sectors: next - start }];
    });
}

/** The layouts in which a table has just room for the clusters. */
function* layoutsOf({ media, start, sectors }: Tables, totalSectors: number) {
  for (const sectorsPerCluster of CLUSTER_SECTORS)
    for (const rootEntries of ROOT_ENTRIES) {
      const geometry = laidOut({
        isWide: false,
        from: 'contents',
        bytesPerSector: BOOT_SECTOR,
        sectorsPerCluster,
        fatStart: start,
        fatCount: 2,
        fatSectors: sectors,
        rootEntries,
        totalSectors,
        media,
      });
      if (geometry && tableFits(geometry)) yield geometry;
    }
}

/** Tables are made no longer than they have to be; some makers give them a few sectors more. */
function tableFits({ clusters, width, fatSectors }: FatGeometry): boolean {
  const needed = Math.ceil(((clusters + 2) * width) / 8 / BOOT_SECTOR);
  return needed <= fatSectors && fatSectors <= needed + 2 + needed / 8;
}

/** Whether all of a root directory could be entries, in use or never used. */
function isRoot(root: Uint8Array): boolean {
  for (let at = 0; at < root.length; at += ENTRY)
    if (!isPlausibleEntry(root.subarray(at, at + ENTRY))) return false;
  return true;
}

/** Directory entries that a layout explains, and all that were weighed. */
async function weighed(
  source: ByteSource,
  geometry: FatGeometry,
): Promise<{ right: number; all: number }> {
  const { width, fatStart, rootStart, rootEntries, sectorsPerCluster, dataStart } = geometry;
  const needed = Math.ceil(((geometry.clusters + 2) * width) / 8);
  const bytes = await source.read(fatStart * BOOT_SECTOR, needed);
  const table = unpackTable(bytes, width, geometry.clusters);
  const root = await source.read(rootStart * BOOT_SECTOR, rootEntries * ENTRY);
  if (!isRoot(root)) return { right: 0, all: 1 };
  const entries = parseDirectory(root, false)
    .entries.filter((entry) => !entry.deleted && !isLabel(entry))
    .slice(0, MOST_WEIGHED);
  let right = 0;
  for (const { firstCluster: first, bytes: size, attributes } of entries) {
    if (isDirectory({ attributes })) {
      const at = (dataStart + (first - 2) * sectorsPerCluster) * BOOT_SECTOR;
      const self = first >= 2 ? await source.read(at, ENTRY) : new Uint8Array(0);
      // A folder's first entry leads to itself: no other layout has it at this place.
      if (isSelf(self, first)) right += 2;
    } else if (chainLength(table, first) === Math.ceil(size / sectorsPerCluster / BOOT_SECTOR))
      right++;
  }
  return { right, all: entries.length };
}

const isSelf = (entry: Uint8Array, cluster: number): boolean =>
  entry.length === ENTRY &&
  entry[0] === 0x2e &&
  entry[1] === 0x20 &&
  isPlausibleEntry(entry) &&
  (entry[26]! | (entry[27]! << 8)) === cluster;

/** Clusters of a chain; -1 where it does not come to an end. */
function chainLength(table: Uint32Array, first: number): number {
  if (first === 0) return 0;
  let count = 0;
  for (let cluster = first; cluster < END; cluster = table[cluster]!) {
    if (cluster < 2 || cluster >= table.length || count++ >= table.length) return -1;
  }
  return count;
}

/** The usual formats by the image's size, where the table begins as theirs. */
function bySize(table: Uint8Array, size: number): FatGeometry | null {
  const format = FAT_FORMATS[size];
  if (!format || widthAt(table, 0) !== 12 || table[0] !== format.media) return null;
  return laidOut({
    isWide: false,
    from: 'contents',
    bytesPerSector: BOOT_SECTOR,
    sectorsPerCluster: format.clusterSectors,
    fatStart: 1,
    fatCount: 2,
    fatSectors: format.fatSectors,
    rootEntries: format.rootEntries,
    totalSectors: format.sectors,
    media: format.media,
  });
}

/** The layout that explains most; null where none explains half of the entries, or nothing tells. */
async function byTables(source: ByteSource): Promise<FatGeometry | null> {
  const bytes = await source.read(0, (MOST_RESERVED + MOST_TABLE_SECTORS) * BOOT_SECTOR);
  const total = Math.floor(source.size / BOOT_SECTOR);
  let best: { geometry: FatGeometry; right: number } | null = null;
  for (const tables of tablesIn(bytes))
    for (const geometry of layoutsOf(tables, total)) {
      if (geometry.width !== tables.width) continue;
      const { right, all } = await weighed(source, geometry);
      if (right * 2 >= all && right > (best?.right ?? 0)) best = { geometry, right };
    }
  return best?.geometry ?? null;
}

async function explainsHalf(source: ByteSource, geometry: FatGeometry): Promise<boolean> {
  const { right, all } = await weighed(source, geometry);
  return right * 2 >= all;
}

/** The geometry that what is left tells; null where nothing does. */
export async function geometryByContents(source: ByteSource): Promise<FatGeometry | null> {
  const head = await source.read(0, 2 * BOOT_SECTOR);
  const table = head.subarray(BOOT_SECTOR);
  const usual = bySize(table, source.size);
  return (
    (await byBackup(source)) ??
    (usual && (await explainsHalf(source, usual)) ? usual : null) ??
    (await byTables(source))
  );
}
