/** Images of volumes with nothing on them, and of disks that are formatted and carry none. */
import { bytesOf, type Layout } from '../layout/layout';
import { formatCatalogue16 } from '../volume/catalogue16/format';
import { SKEW_6, type CpmParameters } from '../volume/cpm/parameters';
import { formatCpm } from '../volume/cpm/write';
import { formatD64 } from '../volume/d64/format';
import { FAT_FORMATS, formatFat } from '../volume/fat/format';
import { formatGranule } from '../volume/granule/write';
import { formatProdos } from '../volume/prodos/format';
import { turnedBytes } from '../volume/sixteen-sector-order';
import { formatWavesample } from '../volume/wavesample/write';
import type { BlankId, BlankKind } from './blank-kinds';

/** The 8-inch standard's disk parameters (formats page, section 4.5). */
export const CPM_8_INCH: CpmParameters = Object.freeze({
  sectorBytes: 128,
  sectorsPerTrack: 26,
  tracks: 77,
  reservedTracks: 2,
  blockSize: 1024,
  directoryEntries: 64,
  skew: SKEW_6,
});

const fat = (bytes: number) => (label: string) => formatFat(FAT_FORMATS[bytes]!, { label });

const prodos = (blocks: number, label: string) => formatProdos(blocks, { label: label || 'BLANK' });

const MAKE: Readonly<Record<BlankId, (label: string) => Uint8Array>> = Object.freeze({
  'fat12-360': fat(368_640),
  'fat12-720': fat(737_280),
  'fat12-1200': fat(1_228_800),
  'fat12-1440': fat(1_474_560),
  d64: (label) => formatD64('d64', { label }),
  d71: (label) => formatD64('d71', { label }),
  d81: (label) => formatD64('d81', { label }),
  'prodos-280': (label) => turnedBytes(prodos(280, label)),
  'prodos-1600': (label) => prodos(1600, label),
  catalogue16: () => formatCatalogue16(),
  'cpm-8': () => formatCpm(CPM_8_INCH),
  granule: () => formatGranule(),
  wavesample: () => formatWavesample(),
});

export const makeBlank = ({ id }: BlankKind, label = ''): Uint8Array => MAKE[id](label);

/** What a controller fills sectors with that it formats. */
const FORMAT_FILLING = 0xe5;

/** A disk that is formatted and carries no file system, in any layout. */
export const formattedImage = (layout: Layout): Uint8Array =>
  new Uint8Array(bytesOf(layout)).fill(FORMAT_FILLING);
