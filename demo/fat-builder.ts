/**
 * Builds FAT12 and FAT16 volumes for the sample scenario (ECMA-107), with a folder level, dates and
 * deleted files.
 */
import { bytesOf, type Layout } from '@/core/layout/layout';
import { foldersFor } from '@/core/assembly/fitting';
import { WritableFat } from '@/core/volume/fat/write';
import { FAT_FORMATS, fat16Format, formatFat, type FatFormat } from '@/core/volume/fat/format';

export interface DemoFile {
  /** `NAME.EXT` or `FOLDER/NAME.EXT`, upper case, 8.3. */
  path: string;
  bytes: Uint8Array;
  /** Local: `1987-03-14T09:26:52`. */
  modified: string;
  deleted?: boolean;
}

const SECTOR = 512;
function build(format: FatFormat, label: string, files: readonly DemoFile[]): Uint8Array {
  const image = formatFat(format, { label });
  const volume = new WritableFat(image);
  const folders = new Set<string>();
  for (const { path, bytes, modified } of files) {
    for (const folder of foldersFor(path, folders)) {
      volume.makeFolder(folder, { modified });
      folders.add(folder);
    }
    volume.put(path, bytes, { modified });
  }
  // Only when all is there: what a deleted file held stays where it was.
  for (const { path, deleted } of files) if (deleted) volume.remove(path);
  return image;
}

/** A flat image of a FAT12 volume that fills the layout. */
export function buildFat12(layout: Layout, label: string, files: readonly DemoFile[]): Uint8Array {
  const format = FAT_FORMATS[bytesOf(layout)];
  if (!format) throw new Error(`no FAT12 format for ${layout.id}`);
  return build(format, label, files);
}

interface Geometry {
  cylinders: number;
  heads: number;
  sectors: number;
}

/** A hard disk of one FAT16 partition behind its master boot record, whose code is `boot`. */
export function buildHardDisk(
  { cylinders, heads, sectors: trackSectors }: Geometry,
  label: string,
  files: readonly DemoFile[],
  boot: Uint8Array,
): Uint8Array {
  const hidden = trackSectors;
  const total = cylinders * heads * trackSectors;
  const sectors = total - hidden;
  const volume = build(fat16Format(sectors, { trackSectors, heads, hidden }), label, files);
  const image = new Uint8Array(total * SECTOR);
  image.set(boot.subarray(0, 0x1be));
  image.set(
    [
      0x80,
      1,
      1,
      0,
      sectors < 65_536 ? 4 : 6,
      heads - 1,
      trackSectors | (((cylinders - 1) >> 2) & 0xc0),
      (cylinders - 1) & 0xff,
    ],
    0x1be,
  );
  const view = new DataView(image.buffer);
  view.setUint32(0x1be + 8, hidden, true);
  view.setUint32(0x1be + 12, sectors, true);
  view.setUint16(510, 0xaa55, true);
  image.set(volume, hidden * SECTOR);
  return image;
}
