/**
 * UDF discs (ECMA-167, OSTA UDF 1.02 to 2.60): read by the anchor, its volume descriptors, file
 * sets and directories.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { collect, streamExtents, type Volume, type VolumeEntry } from '../volume';
import { extentVolume, fileEntry, pathOf, ProblemList, tellLongName } from '../extent-volume';
import type { LongAddress } from './tags';
import { anchorOf, type Anchor } from './anchor';
import { identifiersOf } from './file-identifier';
import { entryAt, type UdfEntry } from './file-entry';
import { entriesOf, type LostEntry } from './lost-entries';
import { UdfSpace } from './space';
import type { ProblemKind } from '@/core/problems';
import { said, type Said, type Words } from '@/core/said';

const LIMITS = Object.freeze({ entries: 400_000, depth: 64, directoryBytes: 16 << 20 });

/** File types of entries (ECMA-167 part 4, 14.6.6). */
const DIRECTORY = 4;
const SYMBOLIC_LINK = 12;

class DirectoryWalk {
  readonly entries: VolumeEntry[] = [];
  private readonly entered = new Set<string>();
  private readonly problems: ProblemList;
  private count = 0;

  constructor(private readonly space: UdfSpace) {
    this.problems = space.problems;
  }

  async directory(address: LongAddress, folders: readonly string[]): Promise<void> {
    const place = folders.join('/') || said('volume.theRootDirectory');
    const own = await this.enter(address, folders.length, place);
    if (!own) return;
    const { extents } = own;
    const wanted = { extents, bytes: Math.min(own.bytes, LIMITS.directoryBytes) };
    const bytes = await collect(streamExtents(this.space.source, wanted));
    const first = extents.find(({ offset }) => offset >= 0)?.offset ?? null;
    for (const each of identifiersOf(bytes, first, place, this.problems)) {
      if (++this.count > LIMITS.entries)
        return this.problems.report(
          'too-many-entries',
          each.offset,
          said('volume.moreThanEntriesThe', { entries: LIMITS.entries }),
        );
      await this.named(each.icb, each.name, each, folders, each.offset);
    }
  }

  /** What no directory leads to: folders with all that is in them, then files. */
  async lost(entries: readonly LostEntry[]): Promise<void> {
    const isKnown = ({ address }: LostEntry) =>
      this.entered.has(`${address.partition}/${address.block}`);
    for (const each of entries.filter(({ isDirectory }) => isDirectory)) {
      if (isKnown(each)) continue;
      const path = this.lostPath('folder', each);
      this.entries.push(
        fileEntry({ path, recordedName: path, kind: 'directory', bytes: 0, extents: [] }),
      );
      await this.directory(each.address, [path]);
    }
    for (const each of entries.filter(({ isDirectory }) => !isDirectory)) {
      if (isKnown(each)) continue;
      const path = this.lostPath('file', each);
      await this.addFile(each.address, null, path, { path, recordedName: path });
    }
  }

  private lostPath(kind: 'folder' | 'file', { address }: LostEntry): string {
    const path = `${kind}-${address.block}`;
    this.problems.report(
      'directory-damaged',
      this.space.placeOf(address),
      said('udf.hasLostItsName', { path }),
    );
    return path;
  }

  /** The entry of a directory that was not entered before; null where it can't be. */
  private async enter(address: LongAddress, depth: number, place: Words): Promise<UdfEntry | null> {
    const at = this.space.placeOf(address);
    const refuse = (kind: ProblemKind, where: number | null, what: Said) => {
      this.problems.report(kind, where, what);
      return null;
    };
    const key = `${address.partition}/${address.block}`;
    if (this.entered.has(key))
      return refuse('directory-loop', at, said('volume.leadsBackToA', { place }));
    if (depth > LIMITS.depth)
      return refuse(
        'too-many-entries',
        null,
        said('volume.liesDeeperThanFolders', { place, depth: LIMITS.depth }),
      );
    this.entered.add(key);
    const own = await entryAt(this.space, address);
    if (!own || own.fileType !== DIRECTORY)
      return refuse('directory-damaged', at, said('udf.hasNoEntryThat', { place }));
    if (own.short)
      this.problems.report('udf-allocation-short', at, said('udf.hasFewerBytesThan', { place }));
    return own;
  }

  private async named(
    icb: LongAddress,
    name: string,
    { deleted, isDirectory }: { deleted: boolean; isDirectory: boolean },
    folders: readonly string[],
    offset: number | null,
  ): Promise<void> {
    const path = pathOf(folders, name || 'unnamed', this.problems, offset);
    tellLongName(name, this.problems, offset);
    const common = { path, recordedName: name };
    if (deleted) {
      // Its name stays when its space is given up; whether it was used anew is not known here.
      await this.addDeleted(icb, isDirectory, common);
      return;
    }
    if (isDirectory) {
      await this.addFolder(icb, common, folders, path);
      return;
    }
    return this.addFile(icb, offset, path, common);
  }

  private async addDeleted(
    icb: LongAddress,
    isDirectory: boolean,
    common: { path: string; recordedName: string },
  ) {
    const left = icb.length > 0 && !isDirectory ? await entryAt(this.space, icb) : null;
    this.entries.push(
      fileEntry({
        ...common,
        kind: isDirectory ? 'directory' : 'file',
        bytes: left?.bytes ?? 0,
        extents: left?.extents ?? [],
        modified: left?.modified ?? null,
        deleted: true,
        recoverable: left ? 'partial' : 'none',
      }),
    );
  }

  private async addFolder(
    icb: LongAddress,
    common: { path: string; recordedName: string },
    folders: readonly string[],
    path: string,
  ) {
    const own = await entryAt(this.space, icb);
    this.entries.push(
      fileEntry({
        ...common,
        kind: 'directory',
        bytes: 0,
        extents: [],
        modified: own?.modified ?? null,
      }),
    );
    await this.directory(icb, [...folders, path.split('/').pop()!]);
  }

  private async addFile(
    icb: LongAddress,
    offset: number | null,
    path: string,
    common: { path: string; recordedName: string },
  ): Promise<void | PromiseLike<void>> {
    this.entered.add(`${icb.partition}/${icb.block}`);
    const own = await entryAt(this.space, icb);
    if (!own) {
      this.problems.report('directory-damaged', offset, said('udf.hasNoEntryThatCould', { path }));
      this.entries.push(fileEntry({ ...common, bytes: 0, extents: [], damaged: true }));
      return;
    }
    if (own.short)
      this.problems.report(
        'udf-allocation-short',
        offset,
        said('udf.shouldHaveBytesFewer', { path, bytes: own.bytes }),
      );
    this.entries.push(
      fileEntry({
        ...common,
        bytes: own.bytes,
        extents: own.extents,
        modified: own.modified,
        damaged: own.short,
        ...(own.fileType === SYMBOLIC_LINK && { type: 'link' }),
      }),
    );
  }
}

/** The descriptors; everything stands twice. */
async function readDescriptors(
  source: ByteSource,
  problems: ProblemList,
  anchor: Anchor,
): Promise<{ fileSet: LongAddress | null; space: UdfSpace }> {
  const first = new UdfSpace(source, problems, anchor.sectorBytes);
  const fileSet = await first.descriptors(anchor.main);
  if (fileSet && first.isComplete) return { fileSet, space: first };
  const trial = new UdfSpace(source, new ProblemList(), anchor.sectorBytes);
  const isThere = (await trial.descriptors(anchor.reserve)) !== null;
  // A kind of map that is not read here is in neither.
  if (!isThere || (fileSet && !trial.isComplete)) return { fileSet, space: first };
  problems.report('descriptor-damaged', anchor.main.offset, said('udf.theFirstSequenceOf'));
  const second = new UdfSpace(source, problems, anchor.sectorBytes);
  return { fileSet: await second.descriptors(anchor.reserve), space: second };
}

export async function openUdf(source: ByteSource): Promise<Volume> {
  const problems = new ProblemList();
  const volume = (label: string | null, entries: VolumeEntry[], freeBytes = 0) =>
    extentVolume(source, {
      filesystem: 'udf',
      label,
      totalBytes: source.size,
      freeBytes,
      entries,
      problems: problems.all(),
    });
  const anchor = await anchorOf(source, problems);
  if (!anchor) return volume(null, []);
  const { fileSet, space } = await readDescriptors(source, problems, anchor);
  const root = fileSet && (await space.root(fileSet));
  const walk = new DirectoryWalk(space);
  if (root) await walk.directory(root, []);
  else problems.report('descriptor-damaged', anchor.at, said('udf.theDescriptorsDoNot'));
  if (!root || problems.has('directory-damaged')) await readLost(space, walk, root !== null);
  return volume(space.label, walk.entries, await space.freeBytes());
}

/** What is still there of a volume whose root or directories are damaged. */
async function readLost(space: UdfSpace, walk: DirectoryWalk, hasRoot: boolean): Promise<void> {
  const { fileSets, entries } = await entriesOf(space);
  if (!hasRoot) {
    const [other] = fileSets;
    const root = other && (await space.root(other));
    const self = entries.find(({ address, parent }) => parent === address.block);
    if (root) await walk.directory(root, []);
    else if (self) await walk.directory(self.address, []);
  }
  await walk.lost(entries);
}
