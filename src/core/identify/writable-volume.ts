/**
 * Volumes with nothing on them, by the layouts that they go on; and any image that can be changed,
 * opened for it.
 */
import { memorySource } from '../bits/byte-source';
import { bytesOf, type Layout } from '../layout/layout';
import { candidatesOf, IN_OTHER_ORDER } from './identify';
import { formatCatalogue16, WritableCatalogue16 } from '../volume/catalogue16/write';
import { probeCpm } from '../volume/cpm/probe';
import { SKEW_6, type CpmParameters } from '../volume/cpm/parameters';
import { formatCpm, WritableCpm } from '../volume/cpm/write';
import { WritableD64 } from '../volume/d64/write';
import { formatD64 } from '../volume/d64/format';
import { WritableFat } from '../volume/fat/write';
import { FAT_FORMATS, formatFat } from '../volume/fat/format';
import { formatGranule, WritableGranule } from '../volume/granule/write';
import { WritableProdos } from '../volume/prodos/write';
import { formatProdos } from '../volume/prodos/format';
import { SIXTEEN_SECTOR_BYTES, turnedBytes } from '../volume/sixteen-sector-order';
import type { WritableVolume } from '../volume/writable';

export interface BlankKind {
  id: string;
  title: string;
  /** The layout that it goes on; null where none that ships carries it. */
  layout: string | null;
  bytes: number;
  /** Longest label it takes; 0 where it has none. */
  mostLabel: number;
  /** What its image is called by at its end. */
  ending: 'img' | 'd64' | 'd71' | 'd81';
  make(label: string): Uint8Array;
}

/** The 8-inch standard's disk parameters (formats page, section 4.5). */
const CPM_8_INCH: CpmParameters = Object.freeze({
  sectorBytes: 128,
  sectorsPerTrack: 26,
  tracks: 77,
  reservedTracks: 2,
  blockSize: 1024,
  directoryEntries: 64,
  skew: SKEW_6,
});

const fat = (id: string, title: string, layout: string | null, bytes: number): BlankKind => ({
  id,
  title,
  layout,
  bytes,
  mostLabel: 11,
  ending: 'img',
  make: (label) => formatFat(FAT_FORMATS[bytes]!, { label }),
});

export const BLANK_KINDS: readonly BlankKind[] = Object.freeze([
  fat('fat12-360', 'FAT12, 360 KiB', 'mfm-525-9x512', 368_640),
  fat('fat12-720', 'FAT12, 720 KiB', 'mfm-35-9x512', 737_280),
  fat('fat12-1200', 'FAT12, 1.2 MiB', 'mfm-525-15x512', 1_228_800),
  fat('fat12-1440', 'FAT12, 1.44 MiB', 'mfm-35-18x512', 1_474_560),
  {
    id: 'd64',
    title: '.d64, 664 blocks',
    layout: 'gcr45-525-35',
    bytes: 174_848,
    mostLabel: 16,
    ending: 'd64',
    make: (label) => formatD64('d64', { label }),
  },
  {
    id: 'd71',
    title: '.d71, 1,328 blocks',
    layout: null,
    bytes: 349_696,
    mostLabel: 16,
    ending: 'd71',
    make: (label) => formatD64('d71', { label }),
  },
  {
    id: 'd81',
    title: '.d81, 3,160 blocks',
    layout: 'mfm-35-10x512',
    bytes: 819_200,
    mostLabel: 16,
    ending: 'd81',
    make: (label) => formatD64('d81', { label }),
  },
  {
    id: 'prodos-280',
    title: 'ProDOS, 280 blocks',
    layout: 'gcr62-525-16x256',
    bytes: SIXTEEN_SECTOR_BYTES,
    mostLabel: 15,
    ending: 'img',
    make: (label) => turnedBytes(formatProdos(280, { label: label || 'BLANK' })),
  },
  {
    id: 'prodos-1600',
    title: 'ProDOS, 1,600 blocks',
    layout: null,
    bytes: 819_200,
    mostLabel: 15,
    ending: 'img',
    make: (label) => formatProdos(1600, { label: label || 'BLANK' }),
  },
  {
    id: 'catalogue16',
    title: '16-sector catalogue, 496 sectors',
    layout: 'gcr62-525-16x256',
    bytes: SIXTEEN_SECTOR_BYTES,
    mostLabel: 0,
    ending: 'img',
    make: () => formatCatalogue16(),
  },
  {
    id: 'cpm-8',
    title: 'CP/M, 8-inch standard',
    layout: 'fm-8-26x128',
    bytes: 256_256,
    mostLabel: 0,
    ending: 'img',
    make: () => formatCpm(CPM_8_INCH),
  },
  {
    id: 'granule',
    title: 'Granules, 68',
    layout: 'mfm-525-18x256',
    bytes: 161_280,
    mostLabel: 0,
    ending: 'img',
    make: () => formatGranule(),
  },
]);

/** What a controller fills sectors with that it formats. */
const FORMAT_FILLING = 0xe5;

/** A disk that is formatted and carries no file system, in any layout. */
export const formattedImage = (layout: Layout): Uint8Array =>
  new Uint8Array(bytesOf(layout)).fill(FORMAT_FILLING);

/**
 * A volume in the other order of sectors: changed as its own system sees it, kept as the image is.
 */
function turned(image: Uint8Array, open: (image: Uint8Array) => WritableVolume): WritableVolume {
  const own = turnedBytes(image);
  const volume = open(own);
  const after =
    <A extends unknown[]>(work: (...args: A) => void) =>
    (...args: A) => {
      work(...args);
      image.set(turnedBytes(own));
    };
  return {
    filesystem: volume.filesystem,
    image,
    hasFolders: volume.hasFolders,
    keeps: volume.keeps,
    refuseName: (name) => volume.refuseName(name),
    suggestName: (wished) => volume.suggestName(wished),
    cost: (bytes, type) => volume.cost(bytes, type),
    room: () => volume.room(),
    put: after(volume.put.bind(volume)),
    remove: after(volume.remove.bind(volume)),
    rename: after(volume.rename.bind(volume)),
    makeFolder: after(volume.makeFolder.bind(volume)),
    setAttributes: after(volume.setAttributes.bind(volume)),
  };
}

/** Below this nothing is written to: what it is must be certain. */
const CERTAIN = 0.6;

/**
 * The volume of an image, to be changed in place; null where none is known that can be. Throws
 * VolumeRefusal where it is damaged. `kind` says what a blank without any content is.
 */
export async function writableVolume(
  image: Uint8Array,
  kind: string | null = null,
): Promise<WritableVolume | null> {
  const blank = BLANK_KINDS.find(({ id }) => id === kind);
  if (blank?.id === 'cpm-8') return new WritableCpm(image, CPM_8_INCH);
  if (blank?.id === 'granule') return new WritableGranule(image);
  const [best] = await candidatesOf(memorySource(image));
  if (!best || best.confidence < CERTAIN) return null;
  const isTurned =
    image.length === SIXTEEN_SECTOR_BYTES &&
    best.reasons.some(({ code }) => code === IN_OTHER_ORDER.code);
  switch (best.filesystem) {
    case 'fat12':
    case 'fat16':
      return new WritableFat(image);
    case 'd64':
    case 'd71':
    case 'd81':
      return new WritableD64(image);
    case 'prodos':
      return isTurned ? turned(image, (own) => new WritableProdos(own)) : new WritableProdos(image);
    case 'catalogue16':
      return isTurned
        ? turned(image, (own) => new WritableCatalogue16(own))
        : new WritableCatalogue16(image);
    case 'granule':
      return new WritableGranule(image);
    case 'cpm': {
      const found = await probeCpm(memorySource(image));
      return found && new WritableCpm(image, found.parameters);
    }
    default:
      return null;
  }
}
