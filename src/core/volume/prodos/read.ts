/**
 * ProDOS volumes, read and checked: 512-byte blocks, a tree of directories, files of one to three
 * levels of index. Parts of a directory that nothing leads to any more are found by their links.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { said, type Words } from '@/core/said';
import { BlockOwners, ProblemList, extentVolume, fileEntry } from '../extent-volume';
import { numberIn } from '../record';
import type { Volume } from '../volume';
import { isErased, type ErasedEntry } from './erased';
import { ProdosFiles, type Listed } from './files';
import { ProdosBlocks } from './forks';
import { checkMap, readMap } from './map';
import type { ProdosEvidence } from './probe';
import {
  BLOCK,
  ENTRY,
  ENTRY_FIELDS,
  FIRST_RECORD,
  HEADER_FIELDS,
  LINKS,
  MAP,
  PER_BLOCK,
  ROOT,
  SUBDIRECTORY,
  SUBDIRECTORY_HEADER,
  VOLUME_HEADER,
  VOLUME_HEADER_FIELDS,
  isFurtherDirectory,
  nameIn,
  storageOf,
} from './records';
import { strayDirectories } from './stray-directories';

const LIMITS = Object.freeze({ depth: 32, entries: 60_000, directoryBlocks: 4096 });

interface Directory {
  key: number;
  name: Words;
  folders: readonly string[];
  depth: number;
  /** As its key block states them. */
  entryLength: number;
  perBlock: number;
}

const usual = (of: Pick<Directory, 'key' | 'name' | 'folders' | 'depth'>): Directory => ({
  ...of,
  entryLength: ENTRY,
  perBlock: PER_BLOCK,
});

class ProdosReader {
  private readonly problems = new ProblemList();
  private readonly removed: ErasedEntry[] = [];
  /** Directories by their blocks. */
  private readonly directories = new Map<number, Directory>();
  private readonly owners: BlockOwners;
  private free: Uint8Array = new Uint8Array(0);
  private readonly blocks: ProdosBlocks;
  private readonly files: ProdosFiles;
  private readonly header: Uint8Array;

  constructor(
    private readonly source: ByteSource,
    key: Uint8Array,
    private readonly isHeaderLost: boolean,
  ) {
    this.header = key.subarray(FIRST_RECORD);
    const there = Math.floor(source.size / BLOCK);
    const stated = isHeaderLost ? 0 : numberIn(this.header, VOLUME_HEADER_FIELDS.blocks);
    const total = stated || there;
    if (total > there)
      this.problems.report(
        'truncated-image',
        source.size,
        said('prodos.theVolumeClaimsBlocks', { total, there }),
      );
    this.owners = new BlockOwners(total);
    this.blocks = new ProdosBlocks(source, total, this.owners, this.problems);
    this.files = new ProdosFiles(this.blocks, this.problems);
  }

  async open(): Promise<Volume> {
    const stated = numberIn(this.header, VOLUME_HEADER_FIELDS.mapBlock);
    const map = this.isHeaderLost ? MAP : stated;
    this.free = await readMap(this.source, map, this.blocks.total, this.owners);
    await this.readRoot();
    await this.readStray();
    for (const each of this.removed) await this.files.erased(each, this.free);
    checkMap(this.free, this.owners, this.problems);
    return extentVolume(this.source, {
      filesystem: 'prodos',
      label: this.isHeaderLost ? null : nameIn(this.header) || null,
      totalBytes: this.blocks.total * BLOCK,
      freeBytes: this.free.reduce((sum, free) => sum + free, 0) * BLOCK,
      entries: this.files.entries,
      problems: this.problems.all(),
    });
  }

  private async readRoot(): Promise<void> {
    const name = said('prodos.theVolumeDirectory');
    const root = usual({ key: ROOT, name, folders: [], depth: 0 });
    if (!this.isHeaderLost) return this.walk(root);
    this.problems.report('directory-damaged', ROOT * BLOCK, said('prodos.theFirstBlockOf'));
    this.directories.set(ROOT, root);
    return this.walkFrom(root, ROOT + 1, ROOT);
  }

  /** Blocks of directories that no other leads to: the rest of one, and folders of their own. */
  private async readStray(): Promise<void> {
    const isDamaged = this.problems.has('directory-damaged') || this.hasLostBlocks();
    if (!isDamaged) return;
    const { further, keys } = await strayDirectories(this.blocks, this.free);
    for (const { block, before } of further) {
      const directory = this.directories.get(before);
      if (!directory || this.owners.isOwned(block)) continue;
      const { name } = directory;
      this.problems.report(
        'directory-damaged',
        block * BLOCK,
        said('prodos.goesOnInBlockThat', { name, block }),
      );
      await this.walkFrom(directory, block, before);
    }
    for (const { block, name, listedIn } of keys) {
      if (this.owners.isOwned(block)) continue;
      const folders = this.directories.get(listedIn)?.folders ?? [];
      const path = [...folders, name].join('/');
      this.problems.report(
        'directory-damaged',
        block * BLOCK,
        said('prodos.aFolderHasLost', { path }),
      );
      this.files.entries.push(
        fileEntry({ path, recordedName: name, kind: 'directory', bytes: 0, extents: [] }),
      );
      await this.walk(usual({ key: block, name: path, folders: [...folders, name], depth: 1 }));
    }
  }

  private hasLostBlocks(): boolean {
    return this.free.some((isFree, block) => !isFree && !this.owners.isOwned(block));
  }

  /** A directory from its key block on. */
  private async walk(directory: Directory): Promise<void> {
    const { key, name } = directory;
    if (this.directories.has(key)) {
      this.problems.report('directory-loop', key * BLOCK, said('prodos.isAFolderThat', { name }));
      return;
    }
    return this.walkFrom(directory, key, 0);
  }

  private async walkFrom(directory: Directory, first: number, before: number): Promise<void> {
    const { key, name } = directory;
    const owner = this.owners.owner(name);
    const visited = new Set<number>();
    for (let number = first, last = before; number !== 0;) {
      const block = await this.directoryBlock(directory, number, visited);
      if (!block) return;
      visited.add(number);
      this.directories.set(number, directory);
      const other = this.owners.claim(number, owner);
      if (other)
        this.problems.report(
          'cross-linked',
          number * BLOCK,
          said('prodos.andShareBlock', { name, other, number }),
        );
      if (number === key && !this.readHeader(directory, block)) return;
      if (number !== key && !this.isOf(directory, block, number, last)) return;
      await this.readEntries(directory, block, number);
      last = number;
      number = numberIn(block, LINKS.blockAfter);
    }
  }

  /** Whether a block is the next of a directory: it leads back, or lists files all the same. */
  private isOf({ name }: Directory, block: Uint8Array, number: number, before: number): boolean {
    if (numberIn(block, LINKS.blockBefore) === before) return true;
    this.problems.report(
      'directory-damaged',
      number * BLOCK,
      said('prodos.blockDoesNotLead', { name, number, before }),
    );
    return isFurtherDirectory(block);
  }

  /** The next block of a directory, or null where its chain leads astray, which is said. */
  private async directoryBlock(
    { name }: Directory,
    number: number,
    visited: ReadonlySet<number>,
  ): Promise<Uint8Array | null> {
    const block = number < this.blocks.total ? await this.blocks.read(number) : null;
    if (!block)
      this.problems.report(
        'directory-damaged',
        number * BLOCK,
        said('prodos.goesOnInBlock', { name, number }),
      );
    else if (visited.has(number) || visited.size > LIMITS.directoryBlocks) {
      this.problems.report(
        'directory-loop',
        number * BLOCK,
        said('prodos.comesBackToBlock', { name, number }),
      );
      return null;
    }
    return block;
  }

  /** What a key block says of the entries behind it; false where it is no directory's. */
  private readHeader(directory: Directory, block: Uint8Array): boolean {
    const header = block.subarray(FIRST_RECORD);
    if (![VOLUME_HEADER, SUBDIRECTORY_HEADER].includes(storageOf(header))) {
      const { name, key: number } = directory;
      this.problems.report(
        'directory-damaged',
        number * BLOCK,
        said('prodos.blockIsNoDirectorys', { name, number }),
      );
      return false;
    }
    const length = numberIn(header, HEADER_FIELDS.entryLength);
    if (length >= ENTRY) directory.entryLength = length;
    if (length !== ENTRY)
      this.problems.report(
        'directory-damaged',
        directory.key * BLOCK,
        said('prodos.saysItsEntriesHave', { name: directory.name, length }),
      );
    const fitting = Math.floor((BLOCK - FIRST_RECORD) / directory.entryLength);
    const stated = numberIn(header, HEADER_FIELDS.entriesABlock) || PER_BLOCK;
    directory.perBlock = Math.min(fitting, stated);
    return true;
  }

  private async readEntries(
    directory: Directory,
    block: Uint8Array,
    number: number,
  ): Promise<void> {
    const { key, entryLength, perBlock, folders } = directory;
    for (
      let i = number === key ? 1 : 0;
      i < perBlock && this.files.entries.length < LIMITS.entries;
      i++
    ) {
      const place = FIRST_RECORD + i * entryLength;
      const entry = block.subarray(place, place + entryLength);
      const at = number * BLOCK + place;
      if (entry[0] !== 0) await this.readEntry(directory, entry, at);
      else if (isErased(entry)) this.removed.push({ entry: entry.slice(), folders, at });
    }
  }

  private async readEntry(directory: Directory, entry: Uint8Array, at: number): Promise<void> {
    const listed = this.files.listed(entry, directory.folders, at);
    const key = numberIn(entry, ENTRY_FIELDS.keyBlock);
    if (storageOf(entry) === SUBDIRECTORY) return this.enterFolder(directory, listed, key, at);
    return this.files.file(entry, listed, at);
  }

  private async enterFolder(
    { folders, depth }: Directory,
    listed: Listed,
    key: number,
    at: number,
  ): Promise<void> {
    const { path } = listed;
    this.files.entries.push(fileEntry({ ...listed, kind: 'directory', bytes: 0, extents: [] }));
    if (depth + 1 > LIMITS.depth)
      this.problems.report(
        'too-many-entries',
        at,
        said('prodos.liesDeeperThanFolders', { path, depth: LIMITS.depth }),
      );
    else
      await this.walk(
        usual({
          key,
          name: path,
          folders: [...folders, path.slice(path.lastIndexOf('/') + 1)],
          depth: depth + 1,
        }),
      );
  }
}

export async function openProdos(
  source: ByteSource,
  { isHeaderLost }: Pick<ProdosEvidence, 'isHeaderLost'> = { isHeaderLost: false },
): Promise<Volume> {
  const key = new Uint8Array(BLOCK);
  key.set(await source.read(ROOT * BLOCK, BLOCK));
  return new ProdosReader(source, key, isHeaderLost).open();
}
