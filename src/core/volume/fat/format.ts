/** Blank FAT volumes as their own systems make them. */
import { plainCapitals } from '../writable';
import { bytes437 } from './names';
import { ENTRY, LABEL } from './write';

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

/** A volume with nothing on it. `serial` is the number that some systems tell volumes by. */
export function formatFat(
  format: FatFormat,
  { label = '', serial = 0 }: { label?: string; serial?: number } = {},
): Uint8Array {
  const image = new Uint8Array(format.sectors * SECTOR);
  const view = new DataView(image.buffer);
  const clusters = Math.floor(
    (format.sectors - 1 - 2 * format.fatSectors - (format.rootEntries * ENTRY) / SECTOR) /
      format.clusterSectors,
  );
  const width = clusters < 4085 ? 12 : 16;
  putParameterBlock(image, view, format, serial);
  const name = bytes437(
    plainCapitals(label, /^[A-Z0-9 !#$%&'()\-@^_`{}~]$/, '_')
      .slice(0, 11)
      .padEnd(11),
  );
  image.set(label ? name : bytes437('NO NAME    '), 43);
  image.set(bytes437(`FAT${width}   `), 54);
  image.set(START_NOTHING, 62);
  view.setUint16(510, 0xaa55, true);
  for (const copy of [0, 1])
    image.set(
      width === 12 ? [format.media, 0xff, 0xff] : [format.media, 0xff, 0xff, 0xff],
      (1 + copy * format.fatSectors) * SECTOR,
    );
  if (label) {
    const root = (1 + 2 * format.fatSectors) * SECTOR;
    image.set(name, root);
    image[root + 11] = LABEL;
  }
  return image;
}

function putParameterBlock(
  image: Uint8Array<ArrayBuffer>,
  view: DataView<ArrayBuffer>,
  format: FatFormat,
  serial: number,
) {
  image.set([0xeb, 0x3c, 0x90]);
  image.set(bytes437('BLANK   '), 3);
  view.setUint16(11, SECTOR, true);
  image[13] = format.clusterSectors;
  view.setUint16(14, 1, true);
  image[16] = 2;
  view.setUint16(17, format.rootEntries, true);
  if (format.sectors < 65536) view.setUint16(19, format.sectors, true);
  else view.setUint32(32, format.sectors, true);
  image[21] = format.media;
  view.setUint16(22, format.fatSectors, true);
  view.setUint16(24, format.trackSectors, true);
  view.setUint16(26, format.heads, true);
  view.setUint32(28, format.hidden ?? 0, true);
  image[36] = format.media === 0xf8 ? 0x80 : 0;
  image[38] = 0x29;
  view.setUint32(39, serial, true);
}
