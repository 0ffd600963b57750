/**
 * The files of FAT12, FAT16 and FAT32 volumes (ECMA-107, ISO/IEC 9293), directory by directory, by
 * one of the volume's tables; read and checked.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import type { ProblemList } from '../extent-volume';
import { isSafeName, safeName } from '../safe-name';
import type { Recoverable, VolumeEntry } from '../volume';
import { type FatGeometry } from './boot-sector';
import { FatClusters } from './clusters';
import {
  isDirectory,
  isLabel,
  isLocked,
  isPlausibleEntry,
  parseDirectory,
  type FatDirectory,
  type FatEntry,
} from './directory';
import { DIRECTORY, ENTRY } from './records';
import { type Chain } from './table';
import { said } from '@/core/said';

/** Above these a volume is read in part and says so. */
const LIMITS = Object.freeze({
  entries: 200_000,
  depth: 64,
  directoryBytes: 2 ** 24,
  lostFolders: 1000,
});

/** A directory that is walked. */
interface Folder {
  /** With a slash behind it; of the root empty. */
  path: string;
  /** Its first cluster and that of the folder above; 0 of a root. */
  first: number;
  parent: number;
}

interface BehindEnd {
  folder: Folder;
  depth: number;
  entries: readonly FatEntry[];
}

export class FatReader {
  readonly entries: VolumeEntry[] = [];
  private rootLabel: string | null = null;
  private readonly paths = new Set<string>();
  /** Paths of folders by their first clusters. */
  private readonly folders = new Map<number, string>();
  private readonly behindEnds: BehindEnd[] = [];

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
    await this.enter(await this.rootBytes(), { path: '', first: 0, parent: 0 }, 0);
    for (const each of this.behindEnds) await this.readBehindEnd(each);
    await this.readLostFolders();
    this.reportOverlaps();
    this.clusters.reportLost();
  }

  private rootBytes(): Promise<Uint8Array> {
    const { width, rootCluster, rootStart, rootEntries, bytesPerSector } = this.geometry;
    if (width !== 32) return this.source.read(rootStart * bytesPerSector, rootEntries * ENTRY);
    this.folders.set(rootCluster, '');
    const chain = this.clusters.chain(rootCluster, said('volume.theRootDirectory'), null);
    return this.clusters.read(chain.clusters, LIMITS.directoryBytes);
  }

  /** A directory's bytes, with all that is below it. */
  private async enter(bytes: Uint8Array, folder: Folder, depth: number): Promise<void> {
    const directory = parseDirectory(bytes, this.geometry.width === 32);
    this.tellDirectory(directory, folder);
    await this.walk(directory.entries, folder, depth);
    if (directory.behindEnd.length > 0)
      this.behindEnds.push({ folder, depth, entries: directory.behindEnd });
  }

  private tellDirectory({ self, parent, orphanedNames }: FatDirectory, folder: Folder): void {
    const { path, first } = folder;
    const at = first === 0 ? null : this.clusters.offsetOf(first);
    const shown = path.slice(0, -1) || said('fat.theRoot');
    if (orphanedNames > 0)
      this.problems.report(
        'directory-damaged',
        at,
        said('fat.longNamesHaveNo', { path: shown, orphanedNames }),
      );
    // Of the widest tables the root has a cluster; most call it 0 all the same.
    const { rootCluster } = this.geometry;
    const isParent = parent === folder.parent || (folder.parent === 0 && parent === rootCluster);
    if (first !== 0 && (self !== first || !isParent))
      this.problems.report(
        'directory-damaged',
        at,
        said('fat.theFolderDoesNotLead', { path: shown }),
      );
  }

  /**
   * An end in the middle of a directory may be an entry that was lost: what stands behind it counts
   * where the table has its clusters in use and nobody else has them.
   */
  private async readBehindEnd({ folder, depth, entries }: BehindEnd): Promise<void> {
    const isProven = (entry: FatEntry) =>
      !entry.deleted && this.clusters.isUnclaimedChain(entry.firstCluster, this.neededBy(entry));
    if (!entries.some(isProven)) return;
    const { path } = folder;
    this.problems.report(
      'directory-damaged',
      null,
      said('fat.entriesStandBehindThe', { path: path.slice(0, -1) || said('fat.theRoot') }),
    );
    await this.walk(entries, folder, depth);
  }

  /** Clusters that the size asks for; of a folder any number. */
  private neededBy(entry: FatEntry): number | null {
    return isDirectory(entry) ? null : Math.ceil(entry.bytes / this.clusters.bytes);
  }

  /** Folders whose own entry is gone: their clusters are nobody's, and begin with themselves. */
  private async readLostFolders(): Promise<void> {
    for (const first of this.clusters.lostChains(LIMITS.lostFolders)) {
      if (this.clusters.ownerOf(first) !== null) continue;
      const bytes = await this.source.read(this.clusters.offsetOf(first), 2 * ENTRY);
      const { self, parent } = parseDirectory(bytes, this.geometry.width === 32);
      if (self !== first || parent === null) continue;
      const above = this.folders.get(parent) ?? '';
      const path = `${above}folder-${first}`;
      this.problems.report(
        'directory-damaged',
        this.clusters.offsetOf(first),
        said('fat.aFolderHasLost', { path }),
      );
      const entry = { name: `folder-${first}`, attributes: DIRECTORY, firstCluster: first };
      await this.addDirectory(
        { ...entry, bytes: 0, modified: null, deleted: false, at: 0 },
        path,
        { path: above, first: parent, parent: 0 },
        1,
      );
    }
  }

  private async walk(entries: readonly FatEntry[], folder: Folder, depth: number): Promise<void> {
    const { path: above } = folder;
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
        if (above === '' && !entry.deleted)
          this.rootLabel = entry.name.replace('.', '').trimEnd() || null;
        continue;
      }
      if (!isSafeName(entry.name)) this.tellUnsafe(entry.name, above);
      const path = above + safeName(entry.name);
      if (!entry.deleted) this.tellTwice(above + entry.name);
      if (entry.deleted) this.addDeleted(entry, path);
      else if (isDirectory(entry)) await this.addDirectory(entry, path, folder, depth);
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

  /** Two entries of one name: only the first can be reached on its own system. */
  private tellTwice(path: string): void {
    const key = path.toUpperCase();
    if (this.paths.has(key))
      this.problems.report('name-twice', null, said('fat.twoEntriesAreCalled', { path }));
    this.paths.add(key);
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
        ? { clusters: [], end: 'end', last: 0, crossed: 0 }
        : this.clusters.chain(entry.firstCluster, path, needed);
    this.entries.push({
      ...this.base(entry, path),
      kind: 'file',
      bytes: entry.bytes,
      extents: this.clusters.extentsOf(chain.clusters.slice(0, needed)),
      damaged: chain.end !== 'end' || chain.clusters.length < needed,
    });
  }

  private async addDirectory(
    entry: FatEntry,
    path: string,
    folder: Folder,
    depth: number,
  ): Promise<void> {
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
    this.folders.set(first, `${path}/`);
    const own = { path: `${path}/`, first, parent: folder.first };
    return this.walkInto(depth, path, chain, own);
  }

  private async walkInto(depth: number, path: string, chain: Chain, own: Folder): Promise<void> {
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
        this.clusters.offsetOf(own.first),
        said('fat.theFolderDoesNot', { path }),
      );
      return;
    }
    await this.enter(bytes, own, depth + 1);
  }

  /** Of a deleted folder nothing but its name is certain. */
  private addDeleted(entry: FatEntry, path: string): void {
    if (isDirectory(entry)) return;
    const needed = Math.ceil(entry.bytes / this.clusters.bytes);
    const first = entry.firstCluster;
    const recoverable = this.recoverable(first, needed);
    this.entries.push({
      ...this.base(entry, path),
      kind: 'file',
      bytes: entry.bytes,
      recoverable,
      extents: recoverable === 'none' ? [] : this.clusters.extentOfRun(first, needed),
    });
  }

  /** A deleted file's chain is gone: it can be whole where it lay in a row that is still free. */
  private recoverable(first: number, needed: number): Recoverable {
    if (needed === 0) return 'whole';
    const isInside = first >= 2 && first + needed <= this.clusters.count;
    const free = isInside ? this.clusters.freeIn(first, needed) : 0;
    if (free === 0) return 'none';
    return free === needed ? 'whole' : 'partial';
  }

  /**
   * Deleted files that claim the same clusters can't both be whole: the later one wrote over the
   * earlier.
   */
  private reportOverlaps(): void {
    const whole = this.entries.filter(
      ({ recoverable, bytes, extents }) =>
        recoverable === 'whole' && bytes > 0 && extents.length > 0,
    );
    const byPlace = [...whole].sort((a, b) => a.extents[0]!.offset - b.extents[0]!.offset);
    let last: VolumeEntry | null = null;
    let end = 0;
    for (const one of byPlace) {
      const { offset, length } = one.extents[0]!;
      if (last && offset < end) one.recoverable = last.recoverable = 'partial';
      if (offset + length <= end) continue;
      last = one;
      end = offset + length;
    }
  }
}
