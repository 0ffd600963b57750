/** FAT12, FAT16 and FAT32 volumes (ECMA-107, ISO/IEC 9293), read and checked. */
import type { ByteSource } from '@/core/bits/byte-source';
import { ProblemList, extentVolume } from '../extent-volume';
import { isSafeName, safeName } from '../safe-name';
import type { Recoverable, Volume, VolumeEntry } from '../volume';
import { type FatGeometry } from './boot-sector';
import { FatClusters } from './clusters';
import {
  isDirectory,
  isLabel,
  isLocked,
  isPlausibleEntry,
  parseDirectory,
  type FatEntry,
} from './directory';
import { ENTRY } from './records';
import { unpackTable, type Chain, type FatTable } from './table';
import type { FatEvidence } from './probe';
import { said } from '@/core/said';

/** Above these a volume is read in part and says so. */
const LIMITS = Object.freeze({
  clusters: 2 ** 24,
  entries: 200_000,
  depth: 64,
  directoryBytes: 2 ** 24,
});

/** Clusters of the table that can be held: fewer than the volume claims, where its table ends. */
function clustersIn({ fatSectors, bytesPerSector, width, clusters }: FatGeometry) {
  const room = Math.max(0, Math.floor((fatSectors * bytesPerSector * 8) / width) - 2);
  return { room, clusters: Math.max(0, Math.min(clusters, room, LIMITS.clusters)) };
}

/** The table, with what its copies say against it. */
async function loadTable(
  source: ByteSource,
  geometry: FatGeometry,
  problems: ProblemList,
): Promise<FatTable> {
  const bytes = geometry.fatSectors * geometry.bytesPerSector;
  const { room, clusters } = clustersIn(geometry);
  if (clusters < geometry.clusters)
    problems.report(
      'descriptor-damaged',
      0,
      said('fat.theVolumeClaimsClusters', { clusters: geometry.clusters, room }),
    );
  const needed = Math.min(bytes, Math.ceil(((clusters + 2) * geometry.width) / 8));
  const start = geometry.fatStart * geometry.bytesPerSector;
  const first = await source.read(start, needed);
  for (let copy = 1; copy < geometry.fatCount; copy++) {
    const offset = start + copy * bytes;
    const other = await source.read(offset, needed);
    if (other.length < needed) continue;
    const at = first.findIndex((byte, i) => byte !== other[i]);
    if (at >= 0)
      problems.report(
        'fat-copies-differ',
        offset + at,
        said('fat.copyOfTheAllocation', { copy: copy + 1, at }),
      );
  }
  return unpackTable(first, geometry.width, clusters);
}

class FatReader {
  readonly entries: VolumeEntry[] = [];
  private rootLabel: string | null = null;

  constructor(
    private readonly source: ByteSource,
    private readonly geometry: FatGeometry,
    private readonly clusters: FatClusters,
    private readonly problems: ProblemList,
  ) {}

  get label(): string | null {
    return this.rootLabel ?? this.geometry.label;
  }

  async read(): Promise<void> {
    await this.walk(this.listed(await this.rootBytes()), '', 0);
    this.reportOverlaps();
    this.clusters.reportLost();
  }

  private rootBytes(): Promise<Uint8Array> {
    const { width, rootCluster, rootStart, rootEntries, bytesPerSector } = this.geometry;
    if (width !== 32) return this.source.read(rootStart * bytesPerSector, rootEntries * ENTRY);
    const chain = this.clusters.chain(rootCluster, said('volume.theRootDirectory'), null);
    return this.clusters.read(chain.clusters, LIMITS.directoryBytes);
  }

  private listed(bytes: Uint8Array): FatEntry[] {
    return parseDirectory(bytes, this.geometry.width === 32);
  }

  private async walk(entries: readonly FatEntry[], folder: string, depth: number): Promise<void> {
    for (const entry of entries) {
      if (this.entries.length >= LIMITS.entries) {
        this.problems.report(
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
      if (!isSafeName(entry.name)) this.tellUnsafe(entry.name, folder);
      const path = folder + safeName(entry.name);
      if (entry.deleted) this.addDeleted(entry, path);
      else if (isDirectory(entry)) await this.addDirectory(entry, path, depth);
      else this.addFile(entry, path);
    }
  }

  private tellUnsafe(name: string, folder: string): void {
    this.problems.report(
      'unsafe-name',
      null,
      said('fat.aNameInCant', {
        folder: folder || said('fat.theRoot'),
        name: JSON.stringify(safeName(name)),
      }),
    );
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
    const needed = Math.ceil(entry.bytes / this.clusters.bytes);
    const chain: Chain =
      entry.bytes === 0 && entry.firstCluster === 0
        ? { clusters: [], end: 'end', last: 0 }
        : this.clusters.chain(entry.firstCluster, path, needed);
    this.entries.push({
      ...this.base(entry, path),
      kind: 'file',
      bytes: entry.bytes,
      extents: this.clusters.extentsOf(chain.clusters.slice(0, needed)),
      damaged: chain.end !== 'end' || chain.clusters.length < needed,
    });
  }

  private async addDirectory(entry: FatEntry, path: string, depth: number): Promise<void> {
    const first = entry.firstCluster;
    const owner = first >= 2 ? this.clusters.ownerOf(first) : null;
    if (owner !== null) {
      this.problems.report(
        'directory-loop',
        this.clusters.offsetOf(first),
        said('fat.theFolderStartsWhere', { path, owner }),
      );
      return;
    }
    const chain = this.clusters.chain(first, path, null);
    this.entries.push({
      ...this.base(entry, path),
      kind: 'directory',
      bytes: 0,
      extents: this.clusters.extentsOf(chain.clusters),
      damaged: chain.end !== 'end',
    });
    return this.walkInto(depth, path, chain, first);
  }

  private async walkInto(depth: number, path: string, chain: Chain, first: number): Promise<void> {
    if (depth >= LIMITS.depth) {
      this.problems.report(
        'too-many-entries',
        null,
        said('fat.theFolderLiesMore', { path, depth: LIMITS.depth }),
      );
      return;
    }
    const bytes = await this.clusters.read(chain.clusters, LIMITS.directoryBytes);
    if (bytes.length > 0 && !isPlausibleEntry(bytes.subarray(0, ENTRY))) {
      this.problems.report(
        'directory-damaged',
        this.clusters.offsetOf(first),
        said('fat.theFolderDoesNot', { path }),
      );
      return;
    }
    await this.walk(this.listed(bytes), `${path}/`, depth + 1);
  }

  /** Of a deleted folder nothing but its name is certain. */
  private addDeleted(entry: FatEntry, path: string): void {
    if (isDirectory(entry)) return;
    const needed = Math.ceil(entry.bytes / this.clusters.bytes);
    const first = entry.firstCluster;
    const clusters = Array.from(
      { length: Math.min(needed, this.clusters.count) },
      (_, i) => first + i,
    );
    const recoverable = this.recoverable(clusters, needed);
    this.entries.push({
      ...this.base(entry, path),
      kind: 'file',
      bytes: entry.bytes,
      recoverable,
      extents: recoverable === 'none' ? [] : this.clusters.extentsOf(clusters),
    });
  }

  /** A deleted file's chain is gone: it can be whole where it lay in a row that is still free. */
  private recoverable(clusters: readonly number[], needed: number): Recoverable {
    if (needed === 0) return 'whole';
    const [first = 0] = clusters;
    const isInside = first >= 2 && first + needed <= this.clusters.count;
    const free = clusters.filter((each) => each >= 2 && this.clusters.isFree(each)).length;
    if (!isInside || free === 0) return 'none';
    return free === needed ? 'whole' : 'partial';
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
      const mine = one.extents[0]!;
      const shares = whole.some(
        (other) =>
          other !== one &&
          other.extents.some(
            (theirs) =>
              theirs.offset < mine.offset + mine.length &&
              mine.offset < theirs.offset + theirs.length,
          ),
      );
      if (shares) one.recoverable = 'partial';
    }
  }
}

/** Opens the volume that `probeFat` found. */
export async function openFat(source: ByteSource, { geometry }: FatEvidence): Promise<Volume> {
  const problems = new ProblemList();
  const claimed = geometry.totalSectors * geometry.bytesPerSector;
  if (claimed > source.size)
    problems.report(
      'truncated-image',
      source.size,
      said('fat.theVolumeClaimsBytes', { claimed, source: source.size }),
    );
  const table = await loadTable(source, geometry, problems);
  const clusters = new FatClusters(source, geometry, table, problems);
  const reader = new FatReader(source, geometry, clusters, problems);
  await reader.read();
  return extentVolume(source, {
    filesystem: `fat${geometry.width}`,
    label: reader.label,
    freeBytes: clusters.freeBytes,
    totalBytes: claimed,
    entries: reader.entries,
    problems: problems.all(),
  });
}
