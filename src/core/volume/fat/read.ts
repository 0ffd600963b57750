/** FAT12, FAT16 and FAT32 volumes (ECMA-107, ISO/IEC 9293), read and checked. */
import type { ByteSource } from '@/core/bits/byte-source';
import type { Problem, ProblemKind } from '@/core/problems';
import { ProblemList, extentVolume, joined } from '../extent-volume';
import { isSafeName, safeName } from '../safe-name';
import { collect, streamExtents, type Extent, type Volume, type VolumeEntry } from '../volume';
import { type FatGeometry } from './boot-sector';
import {
  isDirectory,
  isLabel,
  isLocked,
  isPlausibleEntry,
  parseDirectory,
  type FatEntry,
} from './directory';
import { FREE, followChain, unpackTable, type Chain, type FatTable } from './table';
import type { FatEvidence } from './probe';
import { said, type Said, type Words } from '@/core/said';

/** Above these a volume is read in part and says so. */
const LIMITS = Object.freeze({
  clusters: 2 ** 24,
  entries: 200_000,
  depth: 64,
  directoryBytes: 2 ** 24,
});

class FatReader {
  readonly entries: VolumeEntry[] = [];
  private readonly problemList = new ProblemList();
  private table: FatTable = new Uint32Array(0);
  private owners = new Uint32Array(0);
  private nextOwner = 1;
  private readonly names = new Map<number, Words>();
  private readonly clusterBytes: number;
  private rootLabel: string | null = null;

  constructor(
    private readonly source: ByteSource,
    private readonly geometry: FatGeometry,
  ) {
    this.clusterBytes = geometry.bytesPerSector * geometry.sectorsPerCluster;
  }

  get problems(): Problem[] {
    return this.problemList.all();
  }

  get label(): string | null {
    return this.rootLabel ?? this.geometry.label;
  }

  get freeBytes(): number {
    let free = 0;
    for (let cluster = 2; cluster < this.table.length; cluster++)
      if (this.table[cluster] === FREE) free++;
    return free * this.clusterBytes;
  }

  async open(): Promise<void> {
    const { geometry, source } = this;
    const claimed = geometry.totalSectors * geometry.bytesPerSector;
    if (claimed > source.size) {
      this.report(
        'truncated-image',
        source.size,
        said('fat.theVolumeClaimsBytes', { claimed, source: source.size }),
      );
    }
    await this.loadTable();
    this.owners = new Uint32Array(this.table.length);
    const wide = geometry.width === 32;
    let root: Uint8Array;
    if (wide) {
      const chain = this.chain(geometry.rootCluster, said('volume.theRootDirectory'), null);
      root = await this.readClusters(chain.clusters, LIMITS.directoryBytes);
    } else {
      root = await source.read(
        geometry.rootStart * geometry.bytesPerSector,
        geometry.rootEntries * 32,
      );
    }
    await this.walk(parseDirectory(root, wide), '', 0);
    this.reportOverlaps();
    this.reportLost();
  }

  private async loadTable(): Promise<void> {
    const { geometry, source } = this;
    const bytes = geometry.fatSectors * geometry.bytesPerSector;
    const entryBits = geometry.width;
    const room = Math.max(0, Math.floor((bytes * 8) / entryBits) - 2);
    let clusters = Math.min(geometry.clusters, room, LIMITS.clusters);
    if (clusters < geometry.clusters)
      this.report(
        'descriptor-damaged',
        0,
        said('fat.theVolumeClaimsClusters', { clusters: geometry.clusters, room }),
      );
    clusters = Math.max(clusters, 0);
    const needed = Math.min(bytes, Math.ceil(((clusters + 2) * entryBits) / 8));
    const start = geometry.fatStart * geometry.bytesPerSector;
    const first = await source.read(start, needed);
    this.table = unpackTable(first, geometry.width, clusters);
    for (let copy = 1; copy < geometry.fatCount; copy++) {
      const offset = start + copy * bytes;
      const other = await source.read(offset, needed);
      if (other.length < needed) continue;
      const at = first.findIndex((byte, i) => byte !== other[i]);
      if (at < 0) continue;
      this.report(
        'fat-copies-differ',
        offset + at,
        said('fat.copyOfTheAllocation', { copy: copy + 1, at }),
      );
    }
  }

  private async walk(entries: readonly FatEntry[], folder: string, depth: number): Promise<void> {
    for (const entry of entries) {
      if (this.entries.length >= LIMITS.entries) {
        this.report(
          'too-many-entries',
          null,
          said('volume.moreThanEntriesThe', { entries: LIMITS.entries }),
        );
        return;
      }
      if (isLabel(entry)) {
        if (folder === '' && !entry.deleted)
          this.rootLabel = entry.name.replace('.', '').trimEnd() || null;
        continue;
      }
      if (!isSafeName(entry.name))
        this.report(
          'unsafe-name',
          null,
          said('fat.aNameInCant', {
            folder: folder ? folder : said('fat.theRoot'),
            name: JSON.stringify(safeName(entry.name)),
          }),
        );
      const path = folder + safeName(entry.name);
      if (entry.deleted) this.addDeleted(entry, path);
      else if (isDirectory(entry)) await this.addDirectory(entry, path, depth);
      else this.addFile(entry, path);
    }
  }

  private base(entry: FatEntry, path: string) {
    return {
      path,
      recordedName: entry.name,
      modified: entry.modified,
      locked: isLocked(entry),
      deleted: entry.deleted,
      recoverable: null,
      damaged: false,
    };
  }

  private addFile(entry: FatEntry, path: string): void {
    const needed = Math.ceil(entry.bytes / this.clusterBytes);
    const chain: Chain =
      entry.bytes === 0 && entry.firstCluster === 0
        ? { clusters: [], end: 'end', last: 0 }
        : this.chain(entry.firstCluster, path, needed);
    const damaged = chain.end !== 'end' || chain.clusters.length < needed;
    const extents = this.extentsOf(chain.clusters.slice(0, needed));
    this.entries.push({
      ...this.base(entry, path),
      kind: 'file',
      bytes: entry.bytes,
      extents,
      damaged,
    });
  }

  private async addDirectory(entry: FatEntry, path: string, depth: number): Promise<void> {
    const first = entry.firstCluster;
    if (first >= 2 && first < this.owners.length && this.owners[first] !== 0) {
      this.report(
        'directory-loop',
        this.offsetOf(first),
        said('fat.theFolderStartsWhere', {
          path,
          owner: this.names.get(this.owners[first]!) ?? said('fat.anotherEntry'),
        }),
      );
      return;
    }
    const chain = this.chain(first, path, null);
    this.entries.push({
      ...this.base(entry, path),
      kind: 'directory',
      bytes: 0,
      extents: this.extentsOf(chain.clusters),
      damaged: chain.end !== 'end',
    });
    return this.walkInto(depth, path, chain, first);
  }

  private async walkInto(depth: number, path: string, chain: Chain, first: number): Promise<void> {
    if (depth >= LIMITS.depth) {
      this.report(
        'too-many-entries',
        null,
        said('fat.theFolderLiesMore', { path, depth: LIMITS.depth }),
      );
      return;
    }
    const bytes = await this.readClusters(chain.clusters, LIMITS.directoryBytes);
    if (bytes.length > 0 && !isPlausibleEntry(bytes.subarray(0, 32))) {
      this.report(
        'directory-damaged',
        this.offsetOf(first),
        said('fat.theFolderDoesNot', { path }),
      );
      return;
    }
    await this.walk(parseDirectory(bytes, this.geometry.width === 32), `${path}/`, depth + 1);
  }

  private addDeleted(entry: FatEntry, path: string): void {
    // Of a deleted folder nothing but its name is certain.
    if (isDirectory(entry)) return;
    const needed = Math.ceil(entry.bytes / this.clusterBytes);
    const first = entry.firstCluster;
    const clusters = Array.from(
      { length: Math.min(needed, this.table.length) },
      (_, i) => first + i,
    );
    const inside = first >= 2 && first + needed <= this.table.length;
    const free = clusters.filter((cluster) => cluster >= 2 && this.table[cluster] === FREE).length;
    const recoverable =
      needed === 0
        ? 'whole'
        : !inside || free === 0
          ? 'none'
          : free === needed
            ? 'whole'
            : 'partial';
    this.entries.push({
      ...this.base(entry, path),
      kind: 'file',
      bytes: entry.bytes,
      recoverable,
      extents: recoverable === 'none' ? [] : this.extentsOf(clusters),
    });
  }

  /**
   * Deleted files that claim the same clusters can't both be whole: the later one wrote over the
   * earlier.
   */
  private reportOverlaps(): void {
    const whole = this.entries.filter(
      ({ recoverable, bytes }) => recoverable === 'whole' && bytes > 0,
    );
    for (const one of whole) {
      const [mine] = one.extents;
      const shares = whole.some(
        (other) =>
          other !== one &&
          other.extents.some(
            (theirs) =>
              theirs.offset < mine!.offset + mine!.length &&
              mine!.offset < theirs.offset + theirs.length,
          ),
      );
      if (shares) one.recoverable = 'partial';
    }
  }

  /**
   * Follows a chain and reports how it ended; `needed` is the clusters that the size asks for, null
   * where it says nothing.
   */
  private chain(first: number, name: Words, needed: number | null): Chain {
    const owner = this.nextOwner++;
    this.names.set(owner, name);
    const chain = followChain(this.table, first, this.owners, owner, this.table.length);
    const at =
      chain.clusters.length > 0 ? this.offsetOf(chain.clusters[chain.clusters.length - 1]!) : null;
    if (chain.end === 'crossed') this.reportCrossed(chain, name, owner);
    else if (chain.end === 'loop' || chain.end === 'out-of-range' || chain.end === 'bad')
      this.reportBroken(chain, name, at);
    else this.reportLength(chain, name, needed, at);
    return chain;
  }

  private reportCrossed(chain: Chain, name: Words, owner: number): void {
    const cluster = chain.clusters.find((each) => this.owners[each] !== owner)!;
    this.report(
      'cross-linked',
      this.offsetOf(cluster),
      said('fat.runsIntoFromThere', {
        name,
        owner: this.names.get(this.owners[cluster]!) ?? said('fat.anotherFile'),
      }),
    );
  }

  private reportBroken(chain: Chain, name: Words, at: number | null): void {
    const clusters = chain.clusters.length;
    if (chain.end === 'loop')
      this.report('loop', at, said('fat.theChainOfReturns', { name, clusters }));
    else if (chain.end === 'out-of-range')
      this.report('out-of-range', at, said('fat.theChainOfPoints', { name, last: chain.last }));
    else this.report('bad-clusters', at, said('fat.theChainOfRuns', { name }));
  }

  /** Where a chain ends before or behind what the size asks for. */
  private reportLength(chain: Chain, name: Words, needed: number | null, at: number | null): void {
    const clusters = chain.clusters.length;
    const tooShort = (what: Said) => this.report('chain-too-short', at, what);
    if (chain.end === 'free' && clusters > 0)
      tooShort(said('fat.theChainOfRunsInto', { name, clusters }));
    else if (chain.end === 'free') {
      if (needed !== 0) tooShort(said('fat.hasASizeBut', { name }));
    } else if (needed !== null && clusters < needed)
      tooShort(said('fat.needsClustersItsChain', { name, needed, clusters }));
    else if (needed !== null && clusters > needed)
      this.report(
        'chain-too-long',
        at,
        said('fat.needsClustersItsChainHas', { name, needed, clusters }),
      );
  }

  private reportLost(): void {
    let lost = 0;
    let first = 0;
    for (let cluster = 2; cluster < this.table.length; cluster++) {
      const link = this.table[cluster]!;
      if (link === FREE || link === 0x0ffffff7 || this.owners[cluster] !== 0) continue;
      if (lost++ === 0) first = cluster;
    }
    if (lost > 0)
      this.report('lost-chain', this.offsetOf(first), said('fat.clustersAreMarkedIn', { lost }));
  }

  private offsetOf(cluster: number): number {
    return (
      this.geometry.dataStart * this.geometry.bytesPerSector + (cluster - 2) * this.clusterBytes
    );
  }

  /** Byte ranges of the clusters, neighbours joined, cut where the source ends. */
  private extentsOf(clusters: readonly number[]): Extent[] {
    const extents: Extent[] = [];
    for (const cluster of clusters) {
      const offset = this.offsetOf(cluster);
      const length = Math.min(this.clusterBytes, this.source.size - offset);
      if (length <= 0) break;
      extents.push({ offset, length });
    }
    return joined(extents);
  }

  private readClusters(clusters: readonly number[], limit: number): Promise<Uint8Array> {
    return collect(streamExtents(this.source, { extents: this.extentsOf(clusters), bytes: limit }));
  }

  private report(kind: ProblemKind, offset: number | null, what: Said): void {
    this.problemList.report(kind, offset, what);
  }
}

/** Opens the volume that `probeFat` found. */
export async function openFat(source: ByteSource, { geometry }: FatEvidence): Promise<Volume> {
  const reader = new FatReader(source, geometry);
  await reader.open();
  return extentVolume(source, {
    filesystem: `fat${geometry.width}`,
    label: reader.label,
    freeBytes: reader.freeBytes,
    totalBytes: geometry.totalSectors * geometry.bytesPerSector,
    entries: reader.entries,
    problems: reader.problems,
  });
}
