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
import { localTime } from '../local-time';
import { inUnits } from '../own-units';
import { HOLE, type Extent, type Volume, type VolumeEntry } from '../volume';
import { said, type Words } from '@/core/said';

export const BLOCK = 512;

export const FIRST_DIRECTORY = 2;

const LIMITS = Object.freeze({ depth: 32, entries: 60_000, directoryBlocks: 4096 });

const SEEDLING = 1;

const SAPLING = 2;

const TREE = 3;

const EXTENDED = 5;

const SUBDIRECTORY = 0xd;

const SUBDIRECTORY_HEADER = 0xe;

export const VOLUME_HEADER = 0xf;

const WRITE_ENABLED = 0x02;

export const nameIn = (bytes: Uint8Array, length: number) =>
  String.fromCharCode(...bytes.subarray(1, 1 + length)).replace(/[^\x20-\x7e]/g, '�');

export const viewOf = (bytes: Uint8Array) =>
  new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Date word and time word as local time: years 0–39 are 2000–2039. */
function timeOf(view: DataView, at: number): string | null {
  const date = view.getUint16(at, true);
  const time = view.getUint16(at + 2, true);
  if (date === 0) return null;
  const year = date >> 9;
  return localTime(
    year < 40 ? 2000 + year : 1900 + year,
    (date >> 5) & 15,
    date & 31,
    (time >> 8) & 31,
    time & 63,
  );
}

interface Fork {
  extents: Extent[];
  damaged: boolean;
  blocks: number[];
}

class ProdosReader {
  private readonly problems = new ProblemList();
  private readonly entries: VolumeEntry[] = [];
  private readonly erased: { entry: Uint8Array; folders: readonly string[]; at: number }[] = [];
  private readonly folders = new Set<number>();
  private owners = new BlockOwners(0);
  private free = new Uint8Array(0);
  private total = 0;

  constructor(private readonly source: ByteSource) {}

  async open(): Promise<Volume> {
    const { source, problems } = this;
    const header = (await this.block(FIRST_DIRECTORY)) ?? new Uint8Array(BLOCK);
    const view = viewOf(header);
    const there = Math.floor(source.size / BLOCK);
    this.total = view.getUint16(0x29, true) || there;
    if (this.total > there)
      problems.report(
        'truncated-image',
        source.size,
        said('prodos.theVolumeClaimsBlocks', { total: this.total, there }),
      );
    this.owners = new BlockOwners(this.total);
    this.free = new Uint8Array(this.total);
    const system = this.owners.owner(said('volume.theSystem'));
    for (const block of [0, 1]) this.owners.claim(block, system);
    await this.readMap(view.getUint16(0x27, true), system);
    await this.walk(FIRST_DIRECTORY, [], 0, said('prodos.theVolumeDirectory'));
    for (const { entry, folders, at } of this.erased) await this.readErased(entry, folders, at);
    this.checkMap();
    const freeBlocks = this.free.reduce((sum, free) => sum + free, 0);
    return extentVolume(source, {
      filesystem: 'prodos',
      label: nameIn(header.subarray(4), header[4]! & 15) || null,
      totalBytes: this.total * BLOCK,
      freeBytes: freeBlocks * BLOCK,
      entries: this.entries,
      problems: problems.all(),
    });
  }

  private async block(number: number): Promise<Uint8Array | null> {
    const bytes = await this.source.read(number * BLOCK, BLOCK);
    return bytes.length === BLOCK ? bytes : null;
  }

  private async readMap(first: number, system: number): Promise<void> {
    const blocks = Math.ceil(this.total / (BLOCK * 8));
    const map = await this.source.read(first * BLOCK, blocks * BLOCK);
    for (let i = 0; i < blocks; i++) this.owners.claim(first + i, system);
    for (let block = 0; block < this.total; block++)
      this.free[block] = ((map[block >> 3] ?? 0) >> (7 - (block & 7))) & 1;
  }

  /** A directory from its key block on. */
  private async walk(
    key: number,
    folders: readonly string[],
    depth: number,
    name: Words,
  ): Promise<void> {
    if (this.folders.has(key)) {
      this.problems.report('directory-loop', key * BLOCK, said('prodos.isAFolderThat', { name }));
      return;
    }
    this.folders.add(key);
    const owner = this.owners.owner(name);
    const visited = new Set<number>();
    let entryLength = 0x27;
    let perBlock = 0x0d;
    for (let number = key; number !== 0;) {
      const block = number < this.total ? await this.block(number) : null;
      if (!block) {
        this.problems.report(
          'directory-damaged',
          number * BLOCK,
          said('prodos.goesOnInBlock', { name, number }),
        );
        return;
      }
      if (visited.has(number) || visited.size > LIMITS.directoryBlocks) {
        this.problems.report(
          'directory-loop',
          number * BLOCK,
          said('prodos.comesBackToBlock', { name, number }),
        );
        return;
      }
      visited.add(number);
      const other = this.owners.claim(number, owner);
      if (other)
        this.problems.report(
          'cross-linked',
          number * BLOCK,
          said('prodos.andShareBlock', { name, other, number }),
        );
      const first = number === key;
      if (first) {
        const kind = block[4]! >> 4;
        if (kind !== VOLUME_HEADER && kind !== SUBDIRECTORY_HEADER) {
          this.problems.report(
            'directory-damaged',
            number * BLOCK,
            said('prodos.blockIsNoDirectorys', { name, number }),
          );
          return;
        }
        if (block[0x23]! >= 0x27) entryLength = block[0x23]!;
        perBlock = Math.min(Math.floor((BLOCK - 4) / entryLength), block[0x24] || perBlock);
      }
      await this.readEntries(first, perBlock, entryLength, block, folders, depth, number);
      number = viewOf(block).getUint16(2, true);
    }
  }

  private async readEntries(
    first: boolean,
    perBlock: number,
    entryLength: number,
    block: Uint8Array,
    folders: readonly string[],
    depth: number,
    number: number,
  ) {
    for (let i = first ? 1 : 0; i < perBlock && this.entries.length < LIMITS.entries; i++) {
      const at = 4 + i * entryLength;
      const entry = block.subarray(at, at + entryLength);
      if (entry[0] !== 0) await this.readEntry(entry, folders, depth, number * BLOCK + at);
      else if (
        entry.length >= 0x27 &&
        (entry[0x11]! | entry[0x12]!) !== 0 &&
        /[A-Z]/i.test(String.fromCharCode(entry[1]!))
      )
        this.erased.push({ entry: entry.slice(), folders, at: number * BLOCK + at });
    }
  }

  private async readEntry(
    entry: Uint8Array,
    folders: readonly string[],
    depth: number,
    at: number,
  ): Promise<void> {
    const view = viewOf(entry);
    const storage = entry[0]! >> 4;
    const recordedName = withCase(nameIn(entry, entry[0]! & 15), view.getUint16(0x1c, true));
    const path = pathOf(folders, recordedName, this.problems, at);
    const key = view.getUint16(0x11, true);
    const bytes = view.getUint16(0x15, true) + entry[0x17]! * 65536;
    const common = {
      path,
      recordedName,
      modified: timeOf(view, 0x21),
      locked: (entry[0x1e]! & WRITE_ENABLED) === 0,
      type: hex(entry[0x10]!),
      address: view.getUint16(0x1f, true),
    };
    if (storage === SUBDIRECTORY) {
      await this.enterFolder(common, depth, at, path, key, folders);
      return;
    }
    const owner = this.owners.owner(path);
    if (storage === EXTENDED) return this.readExtended(key, common, owner, at);
    if (storage < SEEDLING || storage > TREE) {
      this.problems.report(
        'directory-damaged',
        at,
        said('prodos.hasStorageTypeWhich', { path, storage }),
      );
      this.entries.push(fileEntry({ ...common, bytes, extents: [], damaged: true }));
      return;
    }
    const fork = await this.fork(storage, key, bytes, path, owner);
    const used = view.getUint16(0x13, true);
    this.tellBlocks(fork, used, at, path);
    this.entries.push(
      fileEntry({
        ...common,
        ownSize: inUnits(used, 'block'),
        bytes,
        extents: joined(fork.extents),
        damaged: fork.damaged,
      }),
    );
  }

  private async enterFolder(
    common: {
      path: string;
      recordedName: string;
      modified: string | null;
      locked: boolean;
      type: string;
      address: number;
    },
    depth: number,
    at: number,
    path: string,
    key: number,
    folders: readonly string[],
  ) {
    this.entries.push(fileEntry({ ...common, kind: 'directory', bytes: 0, extents: [] }));
    if (depth + 1 > LIMITS.depth)
      this.problems.report(
        'too-many-entries',
        at,
        said('prodos.liesDeeperThanFolders', { path, depth: LIMITS.depth }),
      );
    else await this.walk(key, [...folders, path.slice(path.lastIndexOf('/') + 1)], depth + 1, path);
  }

  private tellBlocks(fork: Fork, used: number, at: number, path: string) {
    if (!fork.damaged && used !== fork.blocks.length)
      this.problems.report(
        used > fork.blocks.length ? 'chain-too-short' : 'chain-too-long',
        at,
        said('prodos.theDirectorySaysBlocks', { path, used, blocks: fork.blocks.length }),
      );
  }

  /**
   * Two forks, each with a small entry of its own in the key block; the second is a file beside the
   * first.
   */
  private async readExtended(
    key: number,
    common: Pick<VolumeEntry, 'path' | 'recordedName' | 'modified' | 'locked' | 'address'> & {
      type: string;
    },
    owner: number,
    at: number,
  ): Promise<void> {
    const block = key < this.total ? await this.block(key) : null;
    if (!block) {
      this.problems.report(
        'out-of-range',
        at,
        said('prodos.itsKeyBlockIs', { path: common.path, key }),
      );
      this.entries.push(fileEntry({ ...common, bytes: 0, extents: [], damaged: true }));
      return;
    }
    this.claim(key, owner, common.path);
    for (const [place, suffix] of [
      [0, ''],
      [256, '.resources'],
    ] as const) {
      await this.addFork(block, place, suffix, common, owner);
    }
  }

  private async addFork(
    block: Uint8Array,
    place: number,
    suffix: string,
    common: Pick<VolumeEntry, 'path' | 'recordedName' | 'modified' | 'locked' | 'address'> & {
      type: string;
    },
    owner: number,
  ) {
    const view = viewOf(block);
    const bytes = view.getUint16(place + 5, true) + block[place + 7]! * 65536;
    if (suffix && bytes === 0) return;
    const fork = await this.fork(
      block[place]! & 15,
      view.getUint16(place + 1, true),
      bytes,
      common.path + suffix,
      owner,
    );
    this.entries.push(
      fileEntry({
        ...common,
        path: common.path + suffix,
        bytes,
        extents: joined(fork.extents),
        damaged: fork.damaged,
      }),
    );
  }

  private claim(block: number, owner: number | null, path: string): boolean {
    if (owner === null) return true;
    const other = this.owners.claim(block, owner);
    if (other)
      this.problems.report(
        'cross-linked',
        block * BLOCK,
        said('prodos.andShareBlock2', { path, other, block }),
      );
    return !other;
  }

  /** Blocks of a file from its key; without an owner nothing is claimed or reported. */
  private async fork(
    storage: number,
    key: number,
    bytes: number,
    path: string,
    owner: number | null,
  ): Promise<Fork> {
    const fork: Fork = { extents: [], damaged: false, blocks: [] };
    const bad = (block: number) => {
      if (owner !== null)
        this.problems.report('out-of-range', null, said('prodos.blockIsNotOn', { path, block }));
      fork.damaged = true;
    };
    const take = async (block: number): Promise<Uint8Array | null> => {
      if (block >= this.total || (block + 1) * BLOCK > this.source.size) {
        bad(block);
        return null;
      }
      if (!this.claim(block, owner, path)) fork.damaged = true;
      fork.blocks.push(block);
      return this.block(block);
    };
    const data = async (block: number) => {
      if (block === 0) fork.extents.push({ offset: HOLE, length: BLOCK });
      else if (block >= this.total || (block + 1) * BLOCK > this.source.size) {
        bad(block);
        fork.extents.push({ offset: HOLE, length: BLOCK });
      } else {
        if (!this.claim(block, owner, path)) fork.damaged = true;
        fork.blocks.push(block);
        fork.extents.push({ offset: block * BLOCK, length: BLOCK });
      }
    };
    const needed = Math.ceil(bytes / BLOCK);
    const index = async (block: number, count: number) => {
      if (block === 0) {
        fork.extents.push({ offset: HOLE, length: count * BLOCK });
        return;
      }
      const pointers = await take(block);
      for (let i = 0; i < count; i++)
        await data(pointers ? pointers[i]! | (pointers[256 + i]! << 8) : 0);
    };
    if (storage === SEEDLING) await data(key);
    else if (storage === SAPLING) await index(key, Math.min(256, needed));
    else if (storage === TREE) {
      const master = await take(key);
      for (let i = 0, left = needed; left > 0 && i < 128; i++, left -= 256)
        await index(master ? master[i]! | (master[256 + i]! << 8) : 0, Math.min(256, left));
    } else bad(key);
    const limit = { [SEEDLING]: 1, [SAPLING]: 256, [TREE]: 32768 }[storage] ?? 0;
    if (needed > limit && owner !== null && !fork.damaged) {
      this.problems.report('chain-too-short', null, said('prodos.saysItHasBytes', { path, bytes }));
      fork.damaged = true;
    }
    return fork;
  }

  /** Erased: the name's length is gone, and an index block's halves are swapped. */
  private async readErased(
    entry: Uint8Array,
    folders: readonly string[],
    at: number,
  ): Promise<void> {
    const view = viewOf(entry);
    const key = view.getUint16(0x11, true);
    const bytes = view.getUint16(0x15, true) + entry[0x17]! * 65536;
    const used = view.getUint16(0x13, true);
    const recordedName =
      /^[A-Za-z][A-Za-z0-9.]{0,14}/.exec(String.fromCharCode(...entry.subarray(1, 16)))?.[0] ??
      'erased';
    const common = {
      path: pathOf(folders, recordedName, this.problems, at),
      recordedName,
      modified: timeOf(view, 0x21),
      type: hex(entry[0x10]!),
      deleted: true,
    };
    const { left, extents }: { left: boolean; extents: Extent[] } = await this.erasedExtents(
      key,
      used,
      bytes,
    );
    this.entries.push(
      fileEntry({
        ...common,
        bytes: left ? bytes : 0,
        extents: joined(extents),
        recoverable: left ? 'whole' : 'none',
      }),
    );
  }

  private async erasedExtents(key: number, used: number, bytes: number) {
    const isLeft = (block: number) =>
      block > 1 && block < this.total && this.free[block] === 1 && !this.owners.isOwned(block);
    let extents: Extent[] = [];
    let left = isLeft(key);
    if (left && used <= 1) extents = [{ offset: key * BLOCK, length: BLOCK }];
    else if (left && bytes <= 256 * BLOCK) {
      const index = (await this.block(key))!;
      const count = Math.ceil(bytes / BLOCK);
      const swapped = Array.from({ length: count }, (_, i) => index[256 + i]! | (index[i]! << 8));
      const straight = Array.from({ length: count }, (_, i) => index[i]! | (index[256 + i]! << 8));
      const pointers = [swapped, straight].find((list) =>
        list.every((block) => block === 0 || isLeft(block)),
      );
      left = pointers !== undefined;
      extents = (pointers ?? []).map((block) => ({
        offset: block === 0 ? HOLE : block * BLOCK,
        length: BLOCK,
      }));
    } else left = false;
    return { left, extents };
  }

  private checkMap(): void {
    let used = 0;
    let lost = 0;
    for (let block = 0; block < this.total; block++) {
      if (this.owners.isOwned(block) && this.free[block]) used++;
      else if (!this.owners.isOwned(block) && !this.free[block]) lost++;
    }
    if (used > 0)
      this.problems.report('map-mismatch', null, said('prodos.blocksAreInUse', { used }));
    if (lost > 0)
      this.problems.report('lost-chain', null, said('prodos.blocksAreMarkedIn', { lost }));
  }
}

const hex = (value: number) => value.toString(16).toUpperCase().padStart(2, '0');

/** Lower-case flags: bit 15 says that they count, the next are one for each character. */
function withCase(name: string, flags: number): string {
  if (!(flags & 0x8000)) return name;
  return [...name].map((char, i) => ((flags >> (14 - i)) & 1 ? char.toLowerCase() : char)).join('');
}

export const openProdos = (source: ByteSource): Promise<Volume> => new ProdosReader(source).open();
