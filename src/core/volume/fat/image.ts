/**
 * Clusters of a FAT12 or FAT16 image that is written to (ECMA-107, clause 10): every copy of the
 * table is kept alike, and the first free cluster is given first.
 */
import { sameBytes } from '@/core/bits/same-bytes';
import { said } from '@/core/said';
import { VolumeRefusal } from '../writable';
import { geometryOfMediaByte, parseBootSector, type FatGeometry } from './boot-sector';
import { ENTRY } from './records';

/** First cluster of the data; the root directory has none and is called 0. */
const FIRST = 2;

export const ROOT = 0;

/** Whether all copies of the table say the same: of two that differ none is to be written by. */
function areTablesAlike(bytes: Uint8Array, geometry: FatGeometry): boolean {
  const { fatStart, fatCount, fatSectors, bytesPerSector } = geometry;
  const [start, length] = [fatStart * bytesPerSector, fatSectors * bytesPerSector];
  const first = bytes.subarray(start, start + length);
  return Array.from({ length: fatCount - 1 }, (_, i) => start + (i + 1) * length).every((at) =>
    sameBytes(first, bytes.subarray(at, at + length)),
  );
}

export class FatImage {
  readonly geometry: FatGeometry;
  readonly clusterBytes: number;
  private readonly view: DataView;

  /** Throws VolumeRefusal where the image is no FAT12 or FAT16 volume that is whole. */
  constructor(readonly bytes: Uint8Array) {
    const geometry = parseBootSector(bytes) ?? geometryOfMediaByte(bytes, bytes.length);
    if (!geometry || geometry.width === 32)
      throw new VolumeRefusal('damaged', said('fat.thisIsNoFat'));
    if (geometry.totalSectors * geometry.bytesPerSector > bytes.length)
      throw new VolumeRefusal('damaged', said('fat.theVolumeIsLarger'));
    if (!areTablesAlike(bytes, geometry))
      throw new VolumeRefusal('damaged', said('fat.itsTablesDiffer'));
    this.geometry = geometry;
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.clusterBytes = geometry.bytesPerSector * geometry.sectorsPerCluster;
  }

  /** Byte at which a cluster begins. */
  offsetOf(cluster: number): number {
    const { dataStart, bytesPerSector } = this.geometry;
    return dataStart * bytesPerSector + (cluster - FIRST) * this.clusterBytes;
  }

  clear(cluster: number): void {
    this.bytes.fill(0, this.offsetOf(cluster), this.offsetOf(cluster) + this.clusterBytes);
  }

  /** Byte offsets of a folder's entries, in order. */
  *entriesOf(folder: number): Generator<number> {
    const { rootStart, rootEntries, bytesPerSector } = this.geometry;
    if (folder === ROOT) {
      for (let i = 0; i < rootEntries; i++) yield rootStart * bytesPerSector + i * ENTRY;
      return;
    }
    for (const cluster of this.chain(folder))
      for (let at = 0; at < this.clusterBytes; at += ENTRY) yield this.offsetOf(cluster) + at;
  }

  link(cluster: number): number {
    const table = this.geometry.fatStart * this.geometry.bytesPerSector;
    if (this.geometry.width === 16) return this.view.getUint16(table + cluster * 2, true);
    const pair = this.view.getUint16(table + cluster + (cluster >> 1), true);
    return cluster & 1 ? pair >> 4 : pair & 0xfff;
  }

  setLink(cluster: number, value: number): void {
    const { fatStart, fatCount, fatSectors, bytesPerSector } = this.geometry;
    for (let copy = 0; copy < fatCount; copy++)
      this.setLinkIn((fatStart + copy * fatSectors) * bytesPerSector, cluster, value);
  }

  /** In FAT12 two links share three bytes. */
  private setLinkIn(table: number, cluster: number, value: number): void {
    if (this.geometry.width === 16) {
      this.view.setUint16(table + cluster * 2, value, true);
      return;
    }
    const at = table + cluster + (cluster >> 1);
    const pair = this.view.getUint16(at, true);
    const own = value & 0xfff;
    const both = cluster & 1 ? (pair & 0x000f) | (own << 4) : (pair & 0xf000) | own;
    this.view.setUint16(at, both, true);
  }

  private get endMark(): number {
    return this.geometry.width === 16 ? 0xffff : 0xfff;
  }

  private isCluster(cluster: number): boolean {
    return cluster >= FIRST && cluster < this.geometry.clusters + FIRST;
  }

  chain(first: number): number[] {
    const clusters: number[] = [];
    for (let cluster = first; this.isCluster(cluster); cluster = this.link(cluster)) {
      clusters.push(cluster);
      if (clusters.length > this.geometry.clusters)
        throw new VolumeRefusal('damaged', said('fat.aChainOfThis'));
    }
    return clusters;
  }

  free(first: number): void {
    for (const cluster of this.chain(first)) this.setLink(cluster, 0);
  }

  /** The free clusters, from the first on. */
  private *freeClusters(): Generator<number> {
    for (let cluster = FIRST; this.isCluster(cluster); cluster++)
      if (this.link(cluster) === 0) yield cluster;
  }

  countFree(): number {
    return [...this.freeClusters()].length;
  }

  need(count: number): void {
    if (count <= 0) return;
    const free = this.countFree();
    if (free >= count) return;
    throw new VolumeRefusal(
      'full',
      said('fat.theVolumeHasNo', {
        count: count * this.clusterBytes,
        free: free * this.clusterBytes,
      }),
    );
  }

  /** The first free clusters, chained; `need` has asked for them. */
  take(count: number): number[] {
    const clusters: number[] = [];
    for (const cluster of this.freeClusters()) {
      if (clusters.length >= count) break;
      clusters.push(cluster);
    }
    for (const [i, cluster] of clusters.entries())
      this.setLink(cluster, clusters[i + 1] ?? this.endMark);
    return clusters;
  }

  /** Fills the clusters with the bytes, and the last one's rest with zeros. */
  fill(clusters: readonly number[], bytes: Uint8Array): void {
    for (const [i, cluster] of clusters.entries()) {
      this.clear(cluster);
      const piece = bytes.subarray(i * this.clusterBytes, (i + 1) * this.clusterBytes);
      this.bytes.set(piece, this.offsetOf(cluster));
    }
  }

  /** One cluster more for a folder, empty; gives the place of its first entry. */
  growFolder(folder: number): number {
    const chain = this.chain(folder);
    const [cluster] = this.take(1) as [number];
    this.setLink(chain[chain.length - 1]!, cluster);
    this.clear(cluster);
    return this.offsetOf(cluster);
  }
}
