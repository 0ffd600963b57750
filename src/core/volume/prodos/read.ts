/**
 * ProDOS volumes, read and checked: 512-byte blocks, a tree of directories, files of one to three
 * levels of index.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import {
  BlockOwners,
  ProblemList,
  extentVolume,
  fileEntry,
  joined,
  pathOf,
} from '../extent-volume';
import { inUnits } from '../own-units';
import { numberIn } from '../record';
import type { Volume, VolumeEntry } from '../volume';
import { erasedExtents, erasedName, isErased, type ErasedEntry } from './erased';
import { ProdosBlocks, type Fork } from './forks';
import { checkMap, readMap } from './map';
import {
  BLOCK,
  ENTRY,
  ENTRY_FIELDS,
  EXTENDED,
  FIRST_RECORD,
  FORK_FIELDS,
  HEADER_FIELDS,
  LINKS,
  PER_BLOCK,
  ROOT,
  SEEDLING,
  SUBDIRECTORY,
  SUBDIRECTORY_HEADER,
  TREE,
  VOLUME_HEADER,
  VOLUME_HEADER_FIELDS,
  WRITABLE,
  nameIn,
  storageOf,
  timeIn,
  withCase,
} from './records';
import { said, type Words } from '@/core/said';

const LIMITS = Object.freeze({ depth: 32, entries: 60_000, directoryBlocks: 4096 });

const hex = (value: number) => value.toString(16).toUpperCase().padStart(2, '0');

interface Directory {
  key: number;
  name: Words;
  folders: readonly string[];
  depth: number;
  /** As its key block states them. */
  entryLength: number;
  perBlock: number;
}

/** What is told of a file whatever it holds. */
interface Listed extends Pick<VolumeEntry, 'path' | 'recordedName' | 'modified' | 'locked'> {
  type: string;
  address: number;
}

class ProdosReader {
  private readonly problems = new ProblemList();
  private readonly entries: VolumeEntry[] = [];
  private readonly erased: ErasedEntry[] = [];
  private readonly folders = new Set<number>();
  private readonly owners: BlockOwners;
  private free: Uint8Array = new Uint8Array(0);
  private readonly blocks: ProdosBlocks;
  private readonly header: Uint8Array;

  constructor(
    private readonly source: ByteSource,
    key: Uint8Array,
  ) {
    this.header = key.subarray(FIRST_RECORD);
    const there = Math.floor(source.size / BLOCK);
    const total = numberIn(this.header, VOLUME_HEADER_FIELDS.blocks) || there;
    if (total > there)
      this.problems.report(
        'truncated-image',
        source.size,
        said('prodos.theVolumeClaimsBlocks', { total, there }),
      );
    this.owners = new BlockOwners(total);
    this.blocks = new ProdosBlocks(source, total, this.owners, this.problems);
  }

  async open(): Promise<Volume> {
    const map = numberIn(this.header, VOLUME_HEADER_FIELDS.mapBlock);
    this.free = await readMap(this.source, map, this.blocks.total, this.owners);
    await this.walk({
      key: ROOT,
      name: said('prodos.theVolumeDirectory'),
      folders: [],
      depth: 0,
      entryLength: ENTRY,
      perBlock: PER_BLOCK,
    });
    for (const each of this.erased) await this.readErased(each);
    checkMap(this.free, this.owners, this.problems);
    return extentVolume(this.source, {
      filesystem: 'prodos',
      label: nameIn(this.header) || null,
      totalBytes: this.blocks.total * BLOCK,
      freeBytes: this.free.reduce((sum, free) => sum + free, 0) * BLOCK,
      entries: this.entries,
      problems: this.problems.all(),
    });
  }

  /** A directory from its key block on. */
  private async walk(directory: Directory): Promise<void> {
    const { key, name } = directory;
    if (this.folders.has(key)) {
      this.problems.report('directory-loop', key * BLOCK, said('prodos.isAFolderThat', { name }));
      return;
    }
    this.folders.add(key);
    const owner = this.owners.owner(name);
    const visited = new Set<number>();
    for (let number = key; number !== 0;) {
      const block = await this.directoryBlock(directory, number, visited);
      if (!block) return;
      visited.add(number);
      const other = this.owners.claim(number, owner);
      if (other)
        this.problems.report(
          'cross-linked',
          number * BLOCK,
          said('prodos.andShareBlock', { name, other, number }),
        );
      if (number === key && !this.readHeader(directory, block)) return;
      await this.readEntries(directory, block, number);
      number = numberIn(block, LINKS.blockAfter);
    }
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
      i < perBlock && this.entries.length < LIMITS.entries;
      i++
    ) {
      const place = FIRST_RECORD + i * entryLength;
      const entry = block.subarray(place, place + entryLength);
      const at = number * BLOCK + place;
      if (entry[0] !== 0) await this.readEntry(directory, entry, at);
      else if (isErased(entry)) this.erased.push({ entry: entry.slice(), folders, at });
    }
  }

  private listed(entry: Uint8Array, folders: readonly string[], at: number): Listed {
    const recordedName = withCase(nameIn(entry), numberIn(entry, ENTRY_FIELDS.lowerCase));
    return {
      path: pathOf(folders, recordedName, this.problems, at),
      recordedName,
      modified: timeIn(entry, ENTRY_FIELDS.changed.at),
      locked: (numberIn(entry, ENTRY_FIELDS.access) & WRITABLE) === 0,
      type: hex(numberIn(entry, ENTRY_FIELDS.fileType)),
      address: numberIn(entry, ENTRY_FIELDS.auxiliaryType),
    };
  }

  private async readEntry(directory: Directory, entry: Uint8Array, at: number): Promise<void> {
    const listed = this.listed(entry, directory.folders, at);
    const storage = storageOf(entry);
    const key = numberIn(entry, ENTRY_FIELDS.keyBlock);
    if (storage === SUBDIRECTORY) return this.enterFolder(directory, listed, key, at);
    const owner = this.owners.owner(listed.path);
    if (storage === EXTENDED) return this.readExtended(key, listed, owner, at);
    const bytes = numberIn(entry, ENTRY_FIELDS.bytes);
    if (storage < SEEDLING || storage > TREE) {
      const { path } = listed;
      this.problems.report(
        'directory-damaged',
        at,
        said('prodos.hasStorageTypeWhich', { path, storage }),
      );
      this.entries.push(fileEntry({ ...listed, bytes, extents: [], damaged: true }));
      return;
    }
    const fork = await this.blocks.follow({ storage, key, bytes }, listed.path, owner);
    const used = numberIn(entry, ENTRY_FIELDS.blocks);
    this.tellBlocks(fork, used, at, listed.path);
    const { damaged } = fork;
    const ownSize = inUnits(used, 'block');
    this.entries.push(
      fileEntry({ ...listed, ownSize, bytes, extents: joined(fork.extents), damaged }),
    );
  }

  private async enterFolder(
    { folders, depth }: Directory,
    listed: Listed,
    key: number,
    at: number,
  ): Promise<void> {
    const { path } = listed;
    this.entries.push(fileEntry({ ...listed, kind: 'directory', bytes: 0, extents: [] }));
    if (depth + 1 > LIMITS.depth)
      this.problems.report(
        'too-many-entries',
        at,
        said('prodos.liesDeeperThanFolders', { path, depth: LIMITS.depth }),
      );
    else
      await this.walk({
        key,
        name: path,
        folders: [...folders, path.slice(path.lastIndexOf('/') + 1)],
        depth: depth + 1,
        entryLength: ENTRY,
        perBlock: PER_BLOCK,
      });
  }

  private tellBlocks(fork: Fork, used: number, at: number, path: string): void {
    const blocks = fork.blocks.length;
    if (!fork.damaged && used !== blocks)
      this.problems.report(
        used > blocks ? 'chain-too-short' : 'chain-too-long',
        at,
        said('prodos.theDirectorySaysBlocks', { path, used, blocks }),
      );
  }

  /**
   * Two forks, each with a small entry of its own in the key block; the second is a file beside the
   * first.
   */
  private async readExtended(
    key: number,
    listed: Listed,
    owner: number,
    at: number,
  ): Promise<void> {
    const block = key < this.blocks.total ? await this.blocks.read(key) : null;
    if (!block) {
      const { path } = listed;
      this.problems.report('out-of-range', at, said('prodos.itsKeyBlockIs', { path, key }));
      this.entries.push(fileEntry({ ...listed, bytes: 0, extents: [], damaged: true }));
      return;
    }
    this.blocks.claim(key, owner, listed.path);
    await this.addFork(block.subarray(0, 256), listed, owner);
    const second = block.subarray(256);
    if (numberIn(second, FORK_FIELDS.bytes) > 0)
      await this.addFork(second, { ...listed, path: `${listed.path}.resources` }, owner);
  }

  private async addFork(record: Uint8Array, listed: Listed, owner: number): Promise<void> {
    const bytes = numberIn(record, FORK_FIELDS.bytes);
    const place = {
      storage: record[0]! & 15,
      key: numberIn(record, FORK_FIELDS.keyBlock),
      bytes,
    };
    const { extents, damaged } = await this.blocks.follow(place, listed.path, owner);
    this.entries.push(fileEntry({ ...listed, bytes, extents: joined(extents), damaged }));
  }

  private async readErased({ entry, folders, at }: ErasedEntry): Promise<void> {
    const extents = await erasedExtents(entry, this.blocks, this.free);
    const recordedName = erasedName(entry);
    this.entries.push(
      fileEntry({
        path: pathOf(folders, recordedName, this.problems, at),
        recordedName,
        modified: timeIn(entry, ENTRY_FIELDS.changed.at),
        type: hex(numberIn(entry, ENTRY_FIELDS.fileType)),
        deleted: true,
        bytes: extents ? numberIn(entry, ENTRY_FIELDS.bytes) : 0,
        extents: joined(extents ?? []),
        recoverable: extents ? 'whole' : 'none',
      }),
    );
  }
}

export async function openProdos(source: ByteSource): Promise<Volume> {
  const key = new Uint8Array(BLOCK);
  key.set(await source.read(ROOT * BLOCK, BLOCK));
  return new ProdosReader(source, key).open();
}
