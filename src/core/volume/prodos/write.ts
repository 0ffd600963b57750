/**
 * ProDOS volumes written: the lowest free block first, an index block when a file outgrows one
 * block, a master index when it outgrows 256.
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
import { said, type Said } from '@/core/said';

export const BLOCK = 512;

export const ROOT = 2;

export const ENTRY = 0x27;

export const PER_BLOCK = 0x0d;

export const NAME = /^[A-Z][A-Z0-9.]{0,14}$/;

export const DESTROY_RENAME_WRITE_READ = 0xc3;

const LOCKED_ACCESS = 0x21;

const WRITABLE_BIT = 0x02;

const SEEDLING = 1;

const SAPLING = 2;

const TREE = 3;

const SUBDIRECTORY = 0xd;

const TEXT = 0x04;

const FOLDER_TYPE = 0x0f;

const MAX_BYTES = 0xffffff;

/** Date and time words; zeros for none. Years 1940 to 2039. */
export function wordsOfTime(local: string | null | undefined): [date: number, time: number] {
  const parts = /^(\d{4})-(\d{2})-(\d{2})T(\d{2}):(\d{2})/.exec(local ?? '');
  if (!parts) return [0, 0];
  const [year, month, day, hour, minute] = parts.slice(1).map(Number) as [
    number,
    number,
    number,
    number,
    number,
  ];
  if (year < 1940 || year > 2039) return [0, 0];
  return [((year % 100) << 9) | (month << 5) | day, (hour << 8) | minute];
}

interface Folder {
  key: number;
}

export class WritableProdos implements WritableVolume {
  readonly filesystem = 'prodos';
  readonly hasFolders = true;
  readonly keeps = ['type', 'modified', 'locked', 'address'] as const;
  private readonly view: DataView;
  private readonly total: number;
  private readonly map: number;

  constructor(readonly image: Uint8Array) {
    this.view = new DataView(image.buffer, image.byteOffset, image.byteLength);
    const root = ROOT * BLOCK;
    this.total = image.length >= 6 * BLOCK ? this.word(root + 0x29) : 0;
    this.map = this.total > 0 ? this.word(root + 0x27) : 0;
    if (
      this.total < 6 ||
      this.total * BLOCK > image.length ||
      image[root + 4]! >> 4 !== 0xf ||
      image[root + 0x23] !== ENTRY ||
      image[root + 0x24] !== PER_BLOCK ||
      this.map < 3 ||
      this.map >= this.total
    )
      throw new VolumeRefusal('damaged', said('volume.thisIsNoWhole'));
  }

  refuseName(name: string): Said | null {
    if (NAME.test(name)) return null;
    if (name.length > 15) return said('prodos.isTooLongFifteen', { name });
    return said('prodos.aNameBeginsWith');
  }

  suggestName(wished: string): string {
    const plain = plainCapitals(wished.replaceAll(' ', '.'), /^[A-Z0-9.]$/, '.')
      .replace(/^[^A-Z]+/, '')
      .replace(/\.{2,}/g, '.')
      .replace(/\.$/, '');
    if (plain.length <= 15) return plain || 'FILE';
    const dot = plain.lastIndexOf('.');
    const end = dot > 0 && plain.length - dot <= 5 ? plain.slice(dot) : '';
    return plain.slice(0, 15 - end.length).replace(/\.$/, '') + end;
  }

  cost(bytes: number): number {
    const blocks = Math.max(1, Math.ceil(bytes / BLOCK));
    return blocks === 1 ? 1 : blocks <= 256 ? blocks + 1 : blocks + Math.ceil(blocks / 256) + 1;
  }

  room(): Room {
    let free = 0;
    for (let block = 0; block < this.total; block++) if (this.isFree(block)) free++;
    const entries = [...this.slots({ key: ROOT })].filter(
      (at) => this.image[at]! >> 4 === 0,
    ).length;
    return { unit: 'block', unitBytes: BLOCK, total: this.total, free, entries };
  }

  put(path: string, bytes: Uint8Array, attributes: FileAttributes = {}): void {
    if (bytes.length > MAX_BYTES)
      throw new VolumeRefusal('too-large', said('prodos.aFileHereHolds'));
    const { folder, name } = this.placeOf(path);
    const there = this.find(folder, name);
    if (there === null) {
      const refused = this.refuseName(name);
      if (refused) throw new VolumeRefusal('name', refused);
    } else this.refuseSpecial(there, path);
    const type = this.typeOf(attributes.type, there === null ? TEXT : this.image[there + 0x10]!);
    const needed = this.cost(bytes.length);
    this.need(
      needed +
        (there === null ? this.folderNeeds(folder) : 0) -
        (there === null ? 0 : this.blocksOf(there).length),
    );
    const at = there ?? this.newEntry(folder);
    if (there !== null) for (const block of this.blocksOf(there)) this.setFree(block, true);
    const { storage, key } = this.store(bytes);
    const [date, time] = wordsOfTime(attributes.modified);
    this.startEntry(there, at, name, date, time, folder);
    this.image[at] = (storage << 4) | (this.image[at]! & 15);
    this.image[at + 0x10] = type;
    this.setWord(at + 0x11, key);
    this.setWord(at + 0x13, needed);
    this.image.set(
      [bytes.length & 0xff, (bytes.length >> 8) & 0xff, bytes.length >> 16],
      at + 0x15,
    );
    this.image[at + 0x1e] = attributes.locked ? LOCKED_ACCESS : DESTROY_RENAME_WRITE_READ;
    if (attributes.address !== undefined || there === null)
      this.setWord(at + 0x1f, attributes.address ?? 0);
    this.setWord(at + 0x21, date);
    this.setWord(at + 0x23, time);
    if (there === null) this.count(folder, 1);
  }

  private startEntry(
    there: number | null,
    at: number,
    name: string,
    date: number,
    time: number,
    folder: Folder,
  ) {
    if (there === null) {
      this.image.fill(0, at, at + ENTRY);
      this.setName(at, name);
      this.setWord(at + 0x18, date);
      this.setWord(at + 0x1a, time);
      this.setWord(at + 0x25, folder.key);
    }
  }

  remove(path: string): void {
    const { folder, name } = this.placeOf(path);
    const at = this.mustFind(folder, name, path);
    if (!(this.image[at + 0x1e]! & WRITABLE_BIT))
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
    const storage = this.image[at]! >> 4;
    if (storage === SUBDIRECTORY) {
      const own: Folder = { key: this.word(at + 0x11) };
      for (const each of this.slots(own))
        if (this.image[each]! >> 4 !== 0)
          throw new VolumeRefusal('not-empty', said('volume.theFolderIsNot', { path }));
      for (const block of this.folderBlocks(own)) this.setFree(block, true);
    } else {
      for (const block of this.blocksOf(at)) this.setFree(block, true);
      this.swapIndex(at);
    }
    // The name stays behind, without its length.
    this.image[at] = 0;
    this.count(folder, -1);
  }

  rename(path: string, name: string): void {
    const { folder, name: old } = this.placeOf(path);
    const at = this.mustFind(folder, old, path);
    refuseNewName(this, name, this.find(folder, name), at);
    this.setName(at, name);
    this.setWord(at + 0x1c, 0);
    if (this.image[at]! >> 4 === SUBDIRECTORY) {
      const header = this.word(at + 0x11) * BLOCK + 4;
      this.setName(header, name);
    }
  }

  makeFolder(path: string, { modified = null }: Pick<FileAttributes, 'modified'> = {}): void {
    const { folder, name } = this.placeOf(path);
    refuseNewName(this, name, this.find(folder, name));
    this.need(1 + this.folderNeeds(folder));
    const at = this.newEntry(folder);
    const [key] = this.take(1) as [number];
    const [date, time] = wordsOfTime(modified);
    this.image.fill(0, at, at + ENTRY);
    this.setName(at, name);
    this.image[at] = (SUBDIRECTORY << 4) | name.length;
    this.image[at + 0x10] = FOLDER_TYPE;
    this.setWord(at + 0x11, key);
    this.setWord(at + 0x13, 1);
    this.image.set([BLOCK & 0xff, BLOCK >> 8, 0], at + 0x15);
    for (const [place, value] of [
      [0x18, date],
      [0x1a, time],
      [0x21, date],
      [0x23, time],
      [0x25, folder.key],
    ] as const)
      this.setWord(at + place, value);
    this.image[at + 0x1e] = DESTROY_RENAME_WRITE_READ;
    this.putFolderHeader(key, name, date, time, at);
    this.count(folder, 1);
  }

  private putFolderHeader(key: number, name: string, date: number, time: number, at: number) {
    const header = key * BLOCK + 4;
    this.image.fill(0, key * BLOCK, (key + 1) * BLOCK);
    this.setName(header, name);
    this.image[header] = 0xe0 | name.length;
    // Of a folder's header these eight bytes are always so.
    this.image.set([0x75, 0x23, 0, 0xc3, ENTRY, PER_BLOCK, 0, 0], header + 0x10);
    this.setWord(header + 0x18, date);
    this.setWord(header + 0x1a, time);
    this.image.set([0, 0, DESTROY_RENAME_WRITE_READ, ENTRY, PER_BLOCK, 0, 0], header + 0x1c);
    // Where it is listed: the block, the number of the entry in it, and the length of entries
    // there.
    this.setWord(header + 0x23, Math.floor(at / BLOCK));
    this.image.set([Math.floor(((at % BLOCK) - 4) / ENTRY) + 1, ENTRY], header + 0x25);
  }

  setAttributes(path: string, { type, modified, locked, address }: FileAttributes): void {
    const { folder, name } = this.placeOf(path);
    const at = this.mustFind(folder, name, path);
    if (type !== undefined) this.image[at + 0x10] = this.typeOf(type, 0);
    if (modified !== undefined) {
      const [date, time] = wordsOfTime(modified);
      this.setWord(at + 0x21, date);
      this.setWord(at + 0x23, time);
    }
    if (locked !== undefined)
      this.image[at + 0x1e] = locked ? LOCKED_ACCESS : DESTROY_RENAME_WRITE_READ;
    if (address !== undefined) this.setWord(at + 0x1f, address);
  }

  private typeOf(type: string | undefined, usual: number): number {
    if (type === undefined) return usual;
    if (!/^[0-9A-F]{2}$/i.test(type))
      throw new VolumeRefusal('kind', said('prodos.aFilesTypeIs', { type }));
    return parseInt(type, 16);
  }

  private refuseSpecial(at: number, path: string): void {
    const storage = this.image[at]! >> 4;
    if (storage === SUBDIRECTORY)
      throw new VolumeRefusal('is-folder', said('volume.isAFolder', { path }));
    if (storage > TREE) throw new VolumeRefusal('kind', said('prodos.hasTwoForksIt', { path }));
    if (!(this.image[at + 0x1e]! & WRITABLE_BIT))
      throw new VolumeRefusal('locked', said('volume.isLockedTakeThat', { path }));
  }

  private word(at: number): number {
    return this.view.getUint16(at, true);
  }

  private setWord(at: number, value: number): void {
    this.view.setUint16(at, value, true);
  }

  private setName(at: number, name: string): void {
    this.image[at] = (this.image[at]! & 0xf0) | name.length;
    this.image.fill(0, at + 1, at + 16);
    for (let i = 0; i < name.length; i++) this.image[at + 1 + i] = name.charCodeAt(i);
  }

  private isFree(block: number): boolean {
    return ((this.image[this.map * BLOCK + (block >> 3)]! >> (7 - (block & 7))) & 1) === 1;
  }

  private setFree(block: number, free: boolean): void {
    const at = this.map * BLOCK + (block >> 3);
    const mask = 0x80 >> (block & 7);
    this.image[at] = free ? this.image[at]! | mask : this.image[at]! & ~mask;
  }

  private need(blocks: number): void {
    const { free } = this.room();
    if (blocks > free)
      throw new VolumeRefusal('full', said('prodos.theVolumeHasBlocks', { free, blocks }));
  }

  private take(count: number): number[] {
    const blocks: number[] = [];
    for (let block = 0; block < this.total && blocks.length < count; block++)
      if (this.isFree(block)) blocks.push(block);
    for (const block of blocks) this.setFree(block, false);
    return blocks;
  }

  private block(number: number): number {
    if (number >= this.total)
      throw new VolumeRefusal('damaged', said('prodos.aLinkLeadsTo', { number }));
    return number * BLOCK;
  }

  /**
   * Stores the bytes as their own system writes them from the first on: data, then the index that
   * the second block needs, and so on.
   */
  private store(bytes: Uint8Array): { storage: number; key: number } {
    const count = Math.max(1, Math.ceil(bytes.length / BLOCK));
    const data: number[] = [];
    const indexes: number[] = [];
    let master = 0;
    for (let i = 0; i < count; i++) {
      if (i === 256) master = this.take(1)[0]!;
      if ((i === 1 && count > 1) || (i >= 256 && i % 256 === 0)) indexes.push(this.take(1)[0]!);
      const [block] = this.take(1) as [number];
      data.push(block);
      this.image.fill(0, block * BLOCK, (block + 1) * BLOCK);
      this.image.set(bytes.subarray(i * BLOCK, (i + 1) * BLOCK), block * BLOCK);
    }
    const point = (index: number, at: number, block: number) => {
      this.image[index * BLOCK + at] = block & 0xff;
      this.image[index * BLOCK + 256 + at] = block >> 8;
    };
    for (const index of [...indexes, ...(master ? [master] : [])])
      this.image.fill(0, index * BLOCK, (index + 1) * BLOCK);
    if (count === 1) return { storage: SEEDLING, key: data[0]! };
    for (const [i, block] of data.entries()) point(indexes[i >> 8]!, i & 255, block);
    if (!master) return { storage: SAPLING, key: indexes[0]! };
    for (const [i, index] of indexes.entries()) point(master, i, index);
    return { storage: TREE, key: master };
  }

  /** Every block that a file of at most two levels of index has. */
  private blocksOf(at: number): number[] {
    const storage = this.image[at]! >> 4;
    const key = this.word(at + 0x11);
    if (storage === SEEDLING) return [key];
    const pointers = (block: number) =>
      Array.from(
        { length: 256 },
        (_, i) =>
          this.image[this.block(block) + i]! | (this.image[this.block(block) + 256 + i]! << 8),
      ).filter((each) => each !== 0 && each < this.total);
    if (storage === SAPLING) return [key, ...pointers(key)];
    if (storage === TREE)
      return [key, ...pointers(key).flatMap((index) => [index, ...pointers(index)])];
    // Two forks, each as an entry of its own.
    const forks = [0, 256].flatMap((place) => {
      const fork = this.block(key) + place;
      const own = this.image[fork]! & 15;
      const first = this.word(fork + 1);
      if (own === SEEDLING) return first ? [first] : [];
      if (own === SAPLING) return [first, ...pointers(first)];
      return own === TREE
        ? [first, ...pointers(first).flatMap((index) => [index, ...pointers(index)])]
        : [];
    });
    return [key, ...forks];
  }

  /** Its own system swaps the halves of a removed file's index: so it is told from a live one. */
  private swapIndex(at: number): void {
    const storage = this.image[at]! >> 4;
    if (storage !== SAPLING && storage !== TREE) return;
    const offset = this.block(this.word(at + 0x11));
    const half = this.image.slice(offset, offset + 256);
    this.image.copyWithin(offset, offset + 256, offset + BLOCK);
    this.image.set(half, offset + 256);
  }

  private placeOf(path: string): { folder: Folder; name: string } {
    const parts = partsOfPath(path);
    const name = parts.pop()!;
    let folder: Folder = { key: ROOT };
    for (const part of parts) {
      const at = this.find(folder, part);
      if (at === null || this.image[at]! >> 4 !== SUBDIRECTORY)
        throw new VolumeRefusal('missing', said('volume.thereIsNoFolder', { part }));
      folder = { key: this.word(at + 0x11) };
    }
    return { folder, name };
  }

  private folderBlocks({ key }: Folder): number[] {
    const blocks: number[] = [];
    for (let block = key; block !== 0; block = this.word(this.block(block) + 2)) {
      blocks.push(block);
      if (blocks.length > this.total)
        throw new VolumeRefusal('damaged', said('prodos.aFolderOfThis'));
    }
    return blocks;
  }

  /** Byte offsets of a folder's entries, in order, without its header. */
  private *slots(folder: Folder): Generator<number> {
    for (const block of this.folderBlocks(folder))
      for (let i = block === folder.key ? 1 : 0; i < PER_BLOCK; i++)
        yield block * BLOCK + 4 + i * ENTRY;
  }

  private find(folder: Folder, name: string): number | null {
    const wanted = name.toUpperCase();
    for (const at of this.slots(folder)) {
      if (this.image[at]! >> 4 === 0 || (this.image[at]! & 15) !== wanted.length) continue;
      if ([...wanted].every((char, i) => this.image[at + 1 + i] === char.charCodeAt(0))) return at;
    }
    return null;
  }

  private mustFind(folder: Folder, name: string, path: string): number {
    const at = this.find(folder, name);
    if (at === null) throw new VolumeRefusal('missing', said('volume.thereIsNo', { path }));
    return at;
  }

  private folderNeeds(folder: Folder): number {
    for (const at of this.slots(folder)) if (this.image[at]! >> 4 === 0) return 0;
    if (folder.key === ROOT)
      throw new VolumeRefusal('directory-full', said('prodos.theVolumesOwnDirectory'));
    return 1;
  }

  private newEntry(folder: Folder): number {
    for (const at of this.slots(folder)) if (this.image[at]! >> 4 === 0) return at;
    const blocks = this.folderBlocks(folder);
    const last = blocks[blocks.length - 1]!;
    const [block] = this.take(1) as [number];
    this.image.fill(0, block * BLOCK, (block + 1) * BLOCK);
    this.setWord(block * BLOCK, last);
    this.setWord(last * BLOCK + 2, block);
    // The entry that lists the folder knows its size.
    const header = folder.key * BLOCK + 4;
    const listed = this.word(header + 0x23) * BLOCK + 4 + (this.image[header + 0x25]! - 1) * ENTRY;
    this.setWord(listed + 0x13, blocks.length + 1);
    const bytes = (blocks.length + 1) * BLOCK;
    this.image.set([bytes & 0xff, (bytes >> 8) & 0xff, bytes >> 16], listed + 0x15);
    return block * BLOCK + 4;
  }

  private count({ key }: Folder, by: 1 | -1): void {
    const at = key * BLOCK + 4 + 0x21;
    this.setWord(at, this.word(at) + by);
  }
}
