/** Blank FAT volumes as their own systems make them. */
import { plainCapitals } from '../writable';
import { bytes437 } from './names';
import { putNumber } from '../record';
import { BOOT_16_FIELDS, BOOT_FIELDS, ENTRY, ENTRY_FIELDS, EXTENDED_MARK, LABEL } from './records';

export interface FatFormat {
  sectors: number;
  trackSectors: number;
  heads: number;
  clusterSectors: number;
  rootEntries: number;
  media: number;
  fatSectors: number;
  hidden?: number;
}

/** Parameter blocks of the usual formats (ECMA-107, annexes; common use), by the image's bytes. */
export const FAT_FORMATS: Readonly<Record<number, FatFormat>> = Object.freeze({
  163_840: {
    sectors: 320,
    trackSectors: 8,
    heads: 1,
    clusterSectors: 1,
    rootEntries: 64,
    media: 0xfe,
    fatSectors: 1,
  },
  184_320: {
    sectors: 360,
    trackSectors: 9,
    heads: 1,
    clusterSectors: 1,
    rootEntries: 64,
    media: 0xfc,
    fatSectors: 2,
  },
  327_680: {
    sectors: 640,
    trackSectors: 8,
    heads: 2,
    clusterSectors: 2,
    rootEntries: 112,
    media: 0xff,
    fatSectors: 1,
  },
  368_640: {
    sectors: 720,
    trackSectors: 9,
    heads: 2,
    clusterSectors: 2,
    rootEntries: 112,
    media: 0xfd,
    fatSectors: 2,
  },
  737_280: {
    sectors: 1440,
    trackSectors: 9,
    heads: 2,
    clusterSectors: 2,
    rootEntries: 112,
    media: 0xf9,
    fatSectors: 3,
  },
  819_200: {
    sectors: 1600,
    trackSectors: 10,
    heads: 2,
    clusterSectors: 2,
    rootEntries: 112,
    media: 0xf9,
    fatSectors: 3,
  },
  1_228_800: {
    sectors: 2400,
    trackSectors: 15,
    heads: 2,
    clusterSectors: 1,
    rootEntries: 224,
    media: 0xf9,
    fatSectors: 7,
  },
  1_474_560: {
    sectors: 2880,
    trackSectors: 18,
    heads: 2,
    clusterSectors: 1,
    rootEntries: 224,
    media: 0xf0,
    fatSectors: 9,
  },
});

const SECTOR = 512;

const BOOT_MARK = [0x55, 0xaa] as const;

/** A media byte of disks that stay in their drive. */
const FIXED_DISK = 0xf8;

/** A boot sector that starts nothing: it asks the machine for the next device. */
const START_NOTHING = [0xfa, 0x31, 0xc0, 0x8e, 0xd8, 0xfb, 0xcd, 0x18, 0xeb, 0xfe];

/** A format for a FAT16 volume of any size that FAT16 may have. */
export function fat16Format(
  sectors: number,
  {
    trackSectors = 17,
    heads = 6,
    hidden = 0,
  }: { trackSectors?: number; heads?: number; hidden?: number } = {},
): FatFormat {
  let clusterSectors = 4;
  // Clusters must stay below the number that would make it FAT32, and above that of FAT12.
  while (sectors / clusterSectors > 65_000) clusterSectors *= 2;
  while (clusterSectors > 1 && sectors / clusterSectors < 4200) clusterSectors /= 2;
  const fatSectors = Math.ceil(((sectors / clusterSectors + 2) * 2) / SECTOR);
  return {
    sectors,
    trackSectors,
    heads,
    clusterSectors,
    rootEntries: 512,
    media: 0xf8,
    fatSectors,
    hidden,
  };
}

const labelBytes = (label: string): Uint8Array =>
  bytes437(
    plainCapitals(label, /^[A-Z0-9 !#$%&'()\-@^_`{}~]$/, '_')
      .slice(0, 11)
      .padEnd(11),
  );

/** A volume with nothing on it. `serial` is the number that some systems tell volumes by. */
export function formatFat(
  format: FatFormat,
  { label = '', serial = 0 }: { label?: string; serial?: number } = {},
): Uint8Array {
  const image = new Uint8Array(format.sectors * SECTOR);
  const clusters = Math.floor(
    (format.sectors - 1 - 2 * format.fatSectors - (format.rootEntries * ENTRY) / SECTOR) /
      format.clusterSectors,
  );
  const width = clusters < 4085 ? 12 : 16;
  putParameterBlock(image, format, serial);
  const name = labelBytes(label);
  image.set(label ? name : bytes437('NO NAME    '), BOOT_16_FIELDS.label.at);
  image.set(bytes437(`FAT${width}   `), BOOT_16_FIELDS.namedFilesystem.at);
  image.set(START_NOTHING, 62);
  image.set(BOOT_MARK, BOOT_FIELDS.bootMark.at);
  for (const copy of [0, 1])
    image.set(
      width === 12 ? [format.media, 0xff, 0xff] : [format.media, 0xff, 0xff, 0xff],
      (1 + copy * format.fatSectors) * SECTOR,
    );
  if (label) {
    const root = (1 + 2 * format.fatSectors) * SECTOR;
    image.set(name, root);
    putNumber(image, ENTRY_FIELDS.attributes, LABEL, root);
  }
  return image;
}

function putParameterBlock(image: Uint8Array, format: FatFormat, serial: number): void {
  const isLarge = format.sectors > 0xffff;
  image.set([0xeb, 0x3c, 0x90]);
  image.set(bytes437('BLANK   '), BOOT_FIELDS.formattedBy.at);
  putNumber(image, BOOT_FIELDS.sectorBytes, SECTOR);
  putNumber(image, BOOT_FIELDS.clusterSectors, format.clusterSectors);
  putNumber(image, BOOT_FIELDS.reservedSectors, 1);
  putNumber(image, BOOT_FIELDS.tables, 2);
  putNumber(image, BOOT_FIELDS.rootEntries, format.rootEntries);
  putNumber(image, BOOT_FIELDS.sectors, isLarge ? 0 : format.sectors);
  putNumber(image, BOOT_FIELDS.sectorsLarge, isLarge ? format.sectors : 0);
  putNumber(image, BOOT_FIELDS.mediaByte, format.media);
  putNumber(image, BOOT_FIELDS.tableSectors, format.fatSectors);
  putNumber(image, BOOT_FIELDS.trackSectors, format.trackSectors);
  putNumber(image, BOOT_FIELDS.heads, format.heads);
  putNumber(image, BOOT_FIELDS.hiddenSectors, format.hidden ?? 0);
  putNumber(image, BOOT_16_FIELDS.driveNumber, format.media === FIXED_DISK ? 0x80 : 0);
  putNumber(image, BOOT_16_FIELDS.extendedMark, EXTENDED_MARK);
  putNumber(image, BOOT_16_FIELDS.serialNumber, serial);
}
