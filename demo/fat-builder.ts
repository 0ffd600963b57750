/** Builds FAT12 and FAT16 volumes for the sample scenario (ECMA-107), with a folder level, dates and deleted files. */
import { bytesOf, type Layout } from '@/core/layout/layout';

export interface DemoFile {
  /** `NAME.EXT` or `FOLDER/NAME.EXT`, upper case, 8.3. */
  path: string;
  bytes: Uint8Array;
  /** Local: `1987-03-14T09:26:52`. */
  modified: string;
  deleted?: boolean;
}

interface Format {
  width: 12 | 16;
  /** Of the whole volume. */
  sectors: number;
  clusterSectors: number;
  rootEntries: number;
  media: number;
  fatSectors: number;
  trackSectors: number;
  heads: number;
  /** Sectors of the disk before it. */
  hidden: number;
}

/** Parameter blocks of the usual formats (ECMA-107 annexes; common use). */
const FORMATS: Record<string, Pick<Format, 'clusterSectors' | 'rootEntries' | 'media' | 'fatSectors'>> = {
  'mfm-525-9x512': { clusterSectors: 2, rootEntries: 112, media: 0xfd, fatSectors: 2 },
  'mfm-35-9x512': { clusterSectors: 2, rootEntries: 112, media: 0xf9, fatSectors: 3 },
  'mfm-35-18x512': { clusterSectors: 1, rootEntries: 224, media: 0xf0, fatSectors: 9 },
};

const SECTOR = 512;
const END_OF_CHAIN = 0xffff;

function dosTime(local: string): [number, number] {
  const [year, month, day, hour, minute, second] = local.match(/\d+/g)!.map(Number) as [number, number, number, number, number, number];
  return [((year - 1980) << 9) | (month << 5) | day, (hour << 11) | (minute << 5) | (second >> 1)];
}

class Builder {
  readonly image: Uint8Array;
  private readonly view: DataView;
  private next = 2;
  private readonly folders = new Map<string, { offset: number; at: number; end: number }>();

  constructor(private readonly format: Format, private readonly label: string) {
    this.image = new Uint8Array(format.sectors * SECTOR);
    this.view = new DataView(this.image.buffer);
    this.boot();
    const root = this.rootOffset;
    this.folders.set('', { offset: root, at: root, end: root + format.rootEntries * 32 });
    this.entry('', label.padEnd(11), 0x08, 0, 0, '1988-01-04T08:00:00');
  }

  add(file: DemoFile): void {
    const slash = file.path.lastIndexOf('/');
    const folder = file.path.slice(0, Math.max(0, slash));
    if (folder && !this.folders.has(folder)) this.makeFolder(folder, file.modified);
    const first = file.bytes.length > 0 ? this.store(file.bytes, file.deleted ?? false) : 0;
    const at = this.entry(folder, shortName(file.path.slice(slash + 1)), 0x20, first, file.bytes.length, file.modified);
    if (file.deleted) this.image[at] = 0xe5;
  }

  private get rootOffset(): number {
    return (1 + 2 * this.format.fatSectors) * SECTOR;
  }

  private clusterOffset(cluster: number): number {
    return this.rootOffset + this.format.rootEntries * 32 + (cluster - 2) * this.format.clusterSectors * SECTOR;
  }

  private boot(): void {
    const { view, image, format } = this;
    image.set([0xeb, 0x3c, 0x90]);
    image.set(new TextEncoder().encode('SKERROW '), 3);
    view.setUint16(11, SECTOR, true);
    image[13] = format.clusterSectors;
    view.setUint16(14, 1, true);
    image[16] = 2;
    view.setUint16(17, format.rootEntries, true);
    if (format.sectors < 65_536) view.setUint16(19, format.sectors, true);
    else view.setUint32(32, format.sectors, true);
    image[21] = format.media;
    view.setUint16(22, format.fatSectors, true);
    view.setUint16(24, format.trackSectors, true);
    view.setUint16(26, format.heads, true);
    view.setUint32(28, format.hidden, true);
    image[38] = 0x29;
    image.set(new TextEncoder().encode(this.label.padEnd(11)), 43);
    image.set(new TextEncoder().encode(`FAT${format.width}   `), 54);
    view.setUint16(510, 0xaa55, true);
    for (const copy of [0, 1]) image.set(format.width === 12 ? [format.media, 0xff, 0xff] : [format.media, 0xff, 0xff, 0xff], (1 + copy * format.fatSectors) * SECTOR);
  }

  private link(cluster: number, value: number): void {
    for (const copy of [0, 1]) {
      const table = (1 + copy * this.format.fatSectors) * SECTOR;
      if (this.format.width === 16) {
        this.view.setUint16(table + cluster * 2, value, true);
        continue;
      }
      const at = table + cluster + (cluster >> 1);
      const pair = this.view.getUint16(at, true);
      this.view.setUint16(at, cluster & 1 ? (pair & 0x000f) | ((value & 0xfff) << 4) : (pair & 0xf000) | (value & 0xfff), true);
    }
  }

  /** Puts bytes on the next clusters; those of a deleted file are left free. */
  private store(bytes: Uint8Array, deleted: boolean): number {
    const size = this.format.clusterSectors * SECTOR;
    const count = Math.ceil(bytes.length / size);
    const first = this.next;
    if (this.clusterOffset(first + count) > this.image.length) throw new Error(`${this.label}: the volume is full`);
    this.image.set(bytes, this.clusterOffset(first));
    for (let i = 0; i < count && !deleted; i++) this.link(first + i, i + 1 < count ? first + i + 1 : END_OF_CHAIN);
    this.next += count;
    return first;
  }

  private makeFolder(name: string, modified: string): void {
    const size = this.format.clusterSectors * SECTOR;
    const first = this.store(new Uint8Array(size * 2), false);
    this.entry('', shortName(name), 0x10, first, 0, modified);
    const offset = this.clusterOffset(first);
    this.folders.set(name, { offset, at: offset, end: offset + size * 2 });
    this.entry(name, '.'.padEnd(11), 0x10, first, 0, modified);
    this.entry(name, '..'.padEnd(11), 0x10, 0, 0, modified);
  }

  private entry(folder: string, name: string, attributes: number, first: number, bytes: number, modified: string): number {
    const place = this.folders.get(folder)!;
    const { at } = place;
    if (at >= place.end) throw new Error(`${folder || 'the root'} is full`);
    const [date, time] = dosTime(modified);
    for (let i = 0; i < 11; i++) this.image[at + i] = name.charCodeAt(i);
    this.image[at + 11] = attributes;
    this.view.setUint16(at + 22, time, true);
    this.view.setUint16(at + 24, date, true);
    this.view.setUint16(at + 26, first, true);
    this.view.setUint32(at + 28, bytes, true);
    place.at += 32;
    return at;
  }
}

function shortName(name: string): string {
  const dot = name.lastIndexOf('.');
  const [stem, extension] = dot < 0 ? [name, ''] : [name.slice(0, dot), name.slice(dot + 1)];
  return stem.padEnd(8) + extension.padEnd(3);
}

function build(format: Format, label: string, files: readonly DemoFile[]): Uint8Array {
  const builder = new Builder(format, label);
  for (const file of files) builder.add(file);
  return builder.image;
}

/** A flat image of a FAT12 volume that fills the layout. */
export function buildFat12(layout: Layout, label: string, files: readonly DemoFile[]): Uint8Array {
  const format = FORMATS[layout.id];
  if (!format) throw new Error(`no FAT12 format for ${layout.id}`);
  return build({ ...format, width: 12, sectors: bytesOf(layout) / SECTOR, trackSectors: layout.tracks[0]!.sectors.length, heads: layout.heads, hidden: 0 }, label, files);
}

export interface Geometry { cylinders: number; heads: number; sectors: number }

/** A hard disk of one FAT16 partition behind its master boot record, whose code is `boot`. */
export function buildHardDisk({ cylinders, heads, sectors: trackSectors }: Geometry, label: string, files: readonly DemoFile[], boot: Uint8Array): Uint8Array {
  const hidden = trackSectors;
  const total = cylinders * heads * trackSectors;
  const sectors = total - hidden;
  const clusterSectors = 4;
  const fatSectors = Math.ceil(((sectors / clusterSectors + 2) * 2) / SECTOR);
  const volume = build({ width: 16, sectors, clusterSectors, rootEntries: 512, media: 0xf8, fatSectors, trackSectors, heads, hidden }, label, files);
  const image = new Uint8Array(total * SECTOR);
  image.set(boot.subarray(0, 0x1be));
  image.set([0x80, 1, 1, 0, sectors < 65_536 ? 4 : 6, heads - 1, trackSectors | ((cylinders - 1) >> 2 & 0xc0), (cylinders - 1) & 0xff], 0x1be);
  const view = new DataView(image.buffer);
  view.setUint32(0x1be + 8, hidden, true);
  view.setUint32(0x1be + 12, sectors, true);
  view.setUint16(510, 0xaa55, true);
  image.set(volume, hidden * SECTOR);
  return image;
}
