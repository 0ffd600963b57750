/**
 * FAT12 and FAT16 volumes written (ECMA-107, ISO/IEC 9293): short names, first free cluster first,
 * first free entry first, as their own system does.
 */
import {
  VolumeRefusal,
  partsOfPath,
  plainCapitals,
  refuseNewName,
  type FileAttributes,
  type Room,
  type WritableVolume,
} from '../writable';
import { geometryOfMediaByte, parseBootSector, type FatGeometry } from './boot-sector';
import { bytes437 } from './names';
import { said, type Said } from '@/core/said';

export const ENTRY = 32;

const DELETED = 0xe5;

const READ_ONLY = 0x01;

export const LABEL = 0x08;

const DIRECTORY = 0x10;

const ARCHIVE = 0x20;

const LONG_NAME = 0x0f;

const ALLOWED = /^[A-Z0-9!#$%&'()\-@^_`{}~ÇÄÅÉÆÖÜÑ]$/;

/** Date and time words (clause 11.7); zeros for none. */
function wordsOfTime(local: string | null | undefined): [date: number, time: number] {
  const parts = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}):(\d{2}):(\d{2})/.exec(local ?? '');
  if (!parts) return [0, 0];
  const [year, month, day, hour, minute, second] = parts.slice(1).map(Number) as [
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  if (year < 1980 || year > 2107) return [0, 0];
  return [((year - 1980) << 9) | (month << 5) | day, (hour << 11) | (minute << 5) | (second >> 1)];
}

interface Found {
  at: number;
  folder: Folder;
  firstCluster: number;
  bytes: number;
  attributes: number;
}

/** A folder by its first cluster; 0 is the root. */
interface Folder {
  first: number;
}

export class WritableFat implements WritableVolume {
  readonly filesystem: string;
  readonly hasFolders = true;
  readonly keeps = ['modified', 'locked'] as const;
  private readonly view: DataView;
  private readonly clusterBytes: number;

  /** Throws VolumeRefusal where the image is no FAT12 or FAT16 volume that is whole. */
  constructor(readonly image: Uint8Array) {
    const geometry =
      parseBootSector(image) ?? geometryOfMediaByte(image.subarray(512), image.length);
    if (!geometry || geometry.width === 32)
      throw new VolumeRefusal('damaged', said('fat.thisIsNoFat'));
    if (geometry.totalSectors * geometry.bytesPerSector > image.length)
      throw new VolumeRefusal('damaged', said('fat.theVolumeIsLarger'));
    this.geometry = geometry;
    this.filesystem = `fat${geometry.width}`;
    this.view = new DataView(image.buffer, image.byteOffset, image.byteLength);
    this.clusterBytes = geometry.bytesPerSector * geometry.sectorsPerCluster;
  }

  private readonly geometry: FatGeometry;

  refuseName(name: string): Said | null {
    const [, stem, extension] = /^([^.]*)(?:\.([^.]*))?$/.exec(name) ?? [];
    if (stem === undefined || stem === '' || (name.includes('.') && !extension))
      return said('volume.aNameIsUp');
    if (stem.length > 8 || (extension?.length ?? 0) > 3)
      return said('volume.isTooLongEight', { name });
    const wrong = [...(stem + (extension ?? ''))].find((char) => !ALLOWED.test(char));
    return wrong ? said('fat.cantStandInA', { wrong }) : null;
  }

  suggestName(wished: string): string {
    const dot = wished.lastIndexOf('.');
    const [stem, extension] =
      dot > 0 ? [wished.slice(0, dot), wished.slice(dot + 1)] : [wished, ''];
    const plain = (text: string, longest: number) =>
      plainCapitals(text.replaceAll(/[. ]/g, ''), ALLOWED, '_').slice(0, longest);
    const end = plain(extension, 3);
    return `${plain(stem, 8) || 'FILE'}${end ? `.${end}` : ''}`;
  }

  cost(bytes: number): number {
    return Math.ceil(bytes / this.clusterBytes) * this.clusterBytes;
  }

  room(): Room {
    let free = 0;
    for (let cluster = 2; cluster < this.geometry.clusters + 2; cluster++)
      if (this.link(cluster) === 0) free++;
    let entries = 0;
    for (const at of this.slots({ first: 0 }))
      if (this.image[at] === 0 || this.image[at] === DELETED) entries++;
    return {
      unit: 'byte',
      unitBytes: 1,
      total: this.geometry.clusters * this.clusterBytes,
      free: free * this.clusterBytes,
      entries,
    };
  }

  put(path: string, bytes: Uint8Array, attributes: FileAttributes = {}): void {
    const { folder, name } = this.placeOf(path);
    const there = this.find(folder, name);
    this.refusePut(there, path, name);
    const freed = there ? this.chain(there.firstCluster).length : 0;
    const needed = Math.ceil(bytes.length / this.clusterBytes);
    const forFolder = there ? 0 : this.folderNeeds(folder);
    this.needClusters(needed + forFolder - freed);
    const at = there?.at ?? this.newEntry(folder);
    if (there) this.free(there.firstCluster);
    const clusters = this.take(needed);
    this.writeClusters(clusters, bytes);
    const before = there?.attributes ?? 0;
    this.writeEntry(
      at,
      there ? null : name,
      (before & ~READ_ONLY) | ARCHIVE | (attributes.locked ? READ_ONLY : 0),
      clusters[0] ?? 0,
      bytes.length,
      attributes.modified ?? null,
    );
  }

  private refusePut(there: Found | null, path: string, name: string) {
    if (there) {
      if (there.attributes & DIRECTORY)
        throw new VolumeRefusal('is-folder', said('volume.isAFolder', { path }));
      if (there.attributes & READ_ONLY)
        throw new VolumeRefusal('locked', said('volume.isReadOnlyTake', { path }));
    } else {
      const refused = this.refuseName(name);
      if (refused) throw new VolumeRefusal('name', refused);
    }
  }

  private writeClusters(clusters: number[], bytes: Uint8Array) {
    for (const [i, cluster] of clusters.entries()) {
      const piece = bytes.subarray(i * this.clusterBytes, (i + 1) * this.clusterBytes);
      this.image.set(piece, this.offsetOf(cluster));
      this.image.fill(
        0,
        this.offsetOf(cluster) + piece.length,
        this.offsetOf(cluster) + this.clusterBytes,
      );
    }
  }

  remove(path: string): void {
    const { folder, name } = this.placeOf(path);
    const there = this.mustFind(folder, name, path);
    if (there.attributes & DIRECTORY) {
      for (const at of this.slots({ first: there.firstCluster })) {
        if (this.image[at] === 0) break;
        if (
          this.image[at] !== DELETED &&
          this.image[at] !== 0x2e &&
          this.image[at + 11] !== LONG_NAME
        )
          throw new VolumeRefusal('not-empty', said('volume.theFolderIsNot', { path }));
      }
    } else if (there.attributes & READ_ONLY)
      throw new VolumeRefusal('locked', said('volume.isReadOnlyTake', { path }));
    this.dropLongName(folder, there.at);
    this.image[there.at] = DELETED;
    this.free(there.firstCluster);
  }

  rename(path: string, name: string): void {
    const { folder, name: old } = this.placeOf(path);
    const there = this.mustFind(folder, old, path);
    refuseNewName(this, name, this.find(folder, name)?.at ?? null, there.at);
    this.dropLongName(folder, there.at);
    this.image.set(shortBytes(name), there.at);
    this.image[there.at + 12] = 0;
  }

  makeFolder(path: string, { modified = null }: Pick<FileAttributes, 'modified'> = {}): void {
    const { folder, name } = this.placeOf(path);
    refuseNewName(this, name, this.find(folder, name)?.at ?? null);
    this.needClusters(1 + this.folderNeeds(folder));
    const at = this.newEntry(folder);
    const [cluster] = this.take(1) as [number];
    const offset = this.offsetOf(cluster);
    this.image.fill(0, offset, offset + this.clusterBytes);
    this.writeEntry(at, name, DIRECTORY, cluster, 0, modified);
    this.writeEntry(offset, null, DIRECTORY, cluster, 0, modified);
    this.image.set(dots(1), offset);
    this.writeEntry(offset + ENTRY, null, DIRECTORY, folder.first, 0, modified);
    this.image.set(dots(2), offset + ENTRY);
  }

  setAttributes(path: string, { locked, modified }: FileAttributes): void {
    const { folder, name } = this.placeOf(path);
    const { at } = this.mustFind(folder, name, path);
    if (locked !== undefined)
      this.image[at + 11] = (this.image[at + 11]! & ~READ_ONLY) | (locked ? READ_ONLY : 0);
    if (modified !== undefined) this.writeTime(at, modified);
  }

  private placeOf(path: string): { folder: Folder; name: string } {
    const parts = partsOfPath(path);
    const name = parts.pop()!;
    let folder: Folder = { first: 0 };
    for (const part of parts) {
      const found = this.find(folder, part);
      if (!found || !(found.attributes & DIRECTORY))
        throw new VolumeRefusal('missing', said('volume.thereIsNoFolder', { part }));
      folder = { first: found.firstCluster };
    }
    return { folder, name };
  }

  /** Byte offsets of a folder's entries, in order. */
  private *slots({ first }: Folder): Generator<number> {
    const { rootStart, rootEntries, bytesPerSector } = this.geometry;
    if (first === 0) {
      for (let i = 0; i < rootEntries; i++) yield rootStart * bytesPerSector + i * ENTRY;
      return;
    }
    for (const cluster of this.chain(first))
      for (let at = 0; at < this.clusterBytes; at += ENTRY) yield this.offsetOf(cluster) + at;
  }

  private find(folder: Folder, name: string): Found | null {
    const wanted = this.refuseName(name) ? null : shortBytes(name);
    if (!wanted) return null;
    for (const at of this.slots(folder)) {
      if (this.image[at] === 0) return null;
      const attributes = this.image[at + 11]!;
      if (
        this.image[at] === DELETED ||
        attributes & LABEL ||
        !wanted.every((byte, i) => this.image[at + i] === byte)
      )
        continue;
      return {
        at,
        folder,
        attributes,
        firstCluster: this.view.getUint16(at + 26, true),
        bytes: this.view.getUint32(at + 28, true),
      };
    }
    return null;
  }

  private mustFind(folder: Folder, name: string, path: string): Found {
    const found = this.find(folder, name);
    if (!found) throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    return found;
  }

  /** Clusters that a folder must grow by to take one more entry; the root can't grow. */
  private folderNeeds(folder: Folder): number {
    for (const at of this.slots(folder))
      if (this.image[at] === 0 || this.image[at] === DELETED) return 0;
    if (folder.first === 0)
      throw new VolumeRefusal(
        'directory-full',
        said('fat.theRootDirectoryIs', { rootEntries: this.geometry.rootEntries }),
      );
    return 1;
  }

  /** The first free entry of a folder, which grows by a cluster where it has none. */
  private newEntry(folder: Folder): number {
    for (const at of this.slots(folder)) {
      if (this.image[at] !== 0 && this.image[at] !== DELETED) continue;
      this.image.fill(0, at + 11, at + ENTRY);
      return at;
    }
    const chain = this.chain(folder.first);
    const [cluster] = this.take(1) as [number];
    this.setLink(chain[chain.length - 1]!, cluster);
    this.image.fill(0, this.offsetOf(cluster), this.offsetOf(cluster) + this.clusterBytes);
    return this.offsetOf(cluster);
  }

  private writeEntry(
    at: number,
    name: string | null,
    attributes: number,
    first: number,
    bytes: number,
    modified: string | null,
  ): void {
    if (name !== null) {
      this.image.set(shortBytes(name), at);
      this.image[at + 12] = 0;
    }
    this.image[at + 11] = attributes;
    this.writeTime(at, modified);
    this.view.setUint16(at + 26, first, true);
    this.view.setUint32(at + 28, bytes, true);
  }

  private writeTime(at: number, modified: string | null): void {
    const [date, time] = wordsOfTime(modified);
    this.view.setUint16(at + 22, time, true);
    this.view.setUint16(at + 24, date, true);
  }

  /** The long name before an entry would outlive it. */
  private dropLongName(folder: Folder, entry: number): void {
    const before: number[] = [];
    for (const at of this.slots(folder)) {
      if (at === entry) break;
      if (this.image[at + 11] === LONG_NAME && this.image[at] !== DELETED) before.push(at);
      else before.length = 0;
    }
    for (const at of before) this.image[at] = DELETED;
  }

  private offsetOf(cluster: number): number {
    return (
      this.geometry.dataStart * this.geometry.bytesPerSector + (cluster - 2) * this.clusterBytes
    );
  }

  private link(cluster: number): number {
    const table = this.geometry.fatStart * this.geometry.bytesPerSector;
    if (this.geometry.width === 16) return this.view.getUint16(table + cluster * 2, true);
    const pair = this.view.getUint16(table + cluster + (cluster >> 1), true);
    return cluster & 1 ? pair >> 4 : pair & 0xfff;
  }

  private setLink(cluster: number, value: number): void {
    const { fatStart, fatCount, fatSectors, bytesPerSector, width } = this.geometry;
    for (let copy = 0; copy < fatCount; copy++) {
      const table = (fatStart + copy * fatSectors) * bytesPerSector;
      if (width === 16) {
        this.view.setUint16(table + cluster * 2, value, true);
        continue;
      }
      const at = table + cluster + (cluster >> 1);
      const pair = this.view.getUint16(at, true);
      this.view.setUint16(
        at,
        cluster & 1 ? (pair & 0x000f) | ((value & 0xfff) << 4) : (pair & 0xf000) | (value & 0xfff),
        true,
      );
    }
  }

  private get last(): number {
    return this.geometry.width === 16 ? 0xfff8 : 0xff8;
  }

  private isCluster(cluster: number): boolean {
    return cluster >= 2 && cluster < this.geometry.clusters + 2;
  }

  private chain(first: number): number[] {
    const clusters: number[] = [];
    for (let cluster = first; this.isCluster(cluster); cluster = this.link(cluster)) {
      clusters.push(cluster);
      if (clusters.length > this.geometry.clusters)
        throw new VolumeRefusal('damaged', said('fat.aChainOfThis'));
    }
    return clusters;
  }

  private free(first: number): void {
    for (const cluster of this.chain(first)) this.setLink(cluster, 0);
  }

  private needClusters(count: number): void {
    if (count <= 0) return;
    let free = 0;
    for (let cluster = 2; cluster < this.geometry.clusters + 2 && free < count; cluster++)
      if (this.link(cluster) === 0) free++;
    if (free < count)
      throw new VolumeRefusal(
        'full',
        said('fat.theVolumeHasNo', {
          count: count * this.clusterBytes,
          free: free * this.clusterBytes,
        }),
      );
  }

  /** The first free clusters, chained. */
  private take(count: number): number[] {
    const clusters: number[] = [];
    for (
      let cluster = 2;
      cluster < this.geometry.clusters + 2 && clusters.length < count;
      cluster++
    )
      if (this.link(cluster) === 0) clusters.push(cluster);
    for (const [i, cluster] of clusters.entries())
      this.setLink(cluster, clusters[i + 1] ?? this.last | 7);
    return clusters;
  }
}

function shortBytes(name: string): Uint8Array {
  const [stem = '', extension = ''] = name.split('.');
  const out = bytes437(stem.padEnd(8) + extension.padEnd(3));
  // A first byte of E5h would mark it as deleted.
  if (out[0] === DELETED) out[0] = 0x05;
  return out;
}

const dots = (count: number) => bytes437('.'.repeat(count).padEnd(11));
