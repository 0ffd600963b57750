/**
 * Blocks of a ProDOS image that is written to: its map, files from the lowest free block on, an
 * index block when a file outgrows one block, a master index when it outgrows 256, and folders as
 * chains of blocks.
 */
import { said } from '@/core/said';
import { numberIn, putNumber, type Field } from '../record';
import { VolumeRefusal } from '../writable';
import {
  BLOCK,
  ENTRY,
  ENTRY_FIELDS,
  FIRST_RECORD,
  FOLDER_HEADER_FIELDS,
  FORK_FIELDS,
  HEADER_FIELDS,
  LINKS,
  PER_BLOCK,
  ROOT,
  SAPLING,
  SEEDLING,
  TREE,
  VOLUME_HEADER,
  VOLUME_HEADER_FIELDS,
  pointerIn,
} from './records';

const PER_INDEX = 256;

/** The boot blocks, one of the directory and one of the map are the least that a volume has. */
const LEAST_BLOCKS = 6;

export class ProdosImage {
  readonly total: number;
  private readonly map: number;

  constructor(readonly bytes: Uint8Array) {
    const header = ROOT * BLOCK + FIRST_RECORD;
    this.total =
      bytes.length >= LEAST_BLOCKS * BLOCK
        ? numberIn(bytes, VOLUME_HEADER_FIELDS.blocks, header)
        : 0;
    this.map = this.total > 0 ? numberIn(bytes, VOLUME_HEADER_FIELDS.mapBlock, header) : 0;
    const isWhole =
      this.total >= LEAST_BLOCKS &&
      this.total * BLOCK <= bytes.length &&
      this.storageAt(header) === VOLUME_HEADER &&
      this.number(header, HEADER_FIELDS.entryLength) === ENTRY &&
      this.number(header, HEADER_FIELDS.entriesABlock) === PER_BLOCK &&
      this.map >= 3 &&
      this.map < this.total;
    if (!isWhole) throw new VolumeRefusal('damaged', said('volume.thisIsNoWhole'));
  }

  /** The number in a field of the record at `at`. */
  number(at: number, field: Field): number {
    return numberIn(this.bytes, field, at);
  }

  put(at: number, field: Field, value: number): void {
    putNumber(this.bytes, field, value, at);
  }

  storageAt(at: number): number {
    return this.bytes[at]! >> 4;
  }

  putName(at: number, name: string): void {
    this.bytes[at] = (this.bytes[at]! & 0xf0) | name.length;
    this.bytes.fill(0, at + 1, at + 16);
    for (let i = 0; i < name.length; i++) this.bytes[at + 1 + i] = name.charCodeAt(i);
  }

  clear(block: number): void {
    this.bytes.fill(0, block * BLOCK, (block + 1) * BLOCK);
  }

  isFree(block: number): boolean {
    return ((this.bytes[this.map * BLOCK + (block >> 3)]! >> (7 - (block & 7))) & 1) === 1;
  }

  setFree(block: number, free: boolean): void {
    const at = this.map * BLOCK + (block >> 3);
    const mask = 0x80 >> (block & 7);
    this.bytes[at] = free ? this.bytes[at]! | mask : this.bytes[at]! & ~mask;
  }

  countFree(): number {
    let free = 0;
    for (let block = 0; block < this.total; block++) if (this.isFree(block)) free++;
    return free;
  }

  need(blocks: number): void {
    const free = this.countFree();
    if (blocks > free)
      throw new VolumeRefusal('full', said('prodos.theVolumeHasBlocks', { free, blocks }));
  }

  /** The lowest block that is free, taken; `need` has asked for it. */
  take(): number {
    let block = 0;
    while (block < this.total && !this.isFree(block)) block++;
    this.place(block);
    this.setFree(block, false);
    return block;
  }

  /** Byte at which a block begins. */
  place(block: number): number {
    if (block >= this.total)
      throw new VolumeRefusal('damaged', said('prodos.aLinkLeadsTo', { number: block }));
    return block * BLOCK;
  }

  /**
   * Stores the bytes as their own system writes them from the first on: data, then the index that
   * the second block needs, and so on.
   */
  store(bytes: Uint8Array): { storage: number; key: number } {
    const count = Math.max(1, Math.ceil(bytes.length / BLOCK));
    const data: number[] = [];
    const indexes: number[] = [];
    let master = 0;
    for (let i = 0; i < count; i++) {
      if (i === PER_INDEX) master = this.takeIndex();
      const isFirstOfIndex = i === 1 || (i >= PER_INDEX && i % PER_INDEX === 0);
      if (isFirstOfIndex) indexes.push(this.takeIndex());
      const block = this.take();
      data.push(block);
      this.clear(block);
      this.bytes.set(bytes.subarray(i * BLOCK, (i + 1) * BLOCK), block * BLOCK);
    }
    if (count === 1) return { storage: SEEDLING, key: data[0]! };
    for (const [i, block] of data.entries())
      this.point(indexes[Math.floor(i / PER_INDEX)]!, i % PER_INDEX, block);
    if (!master) return { storage: SAPLING, key: indexes[0]! };
    for (const [i, index] of indexes.entries()) this.point(master, i, index);
    return { storage: TREE, key: master };
  }

  private takeIndex(): number {
    const index = this.take();
    this.clear(index);
    return index;
  }

  private point(index: number, i: number, block: number): void {
    this.bytes[index * BLOCK + i] = block & 0xff;
    this.bytes[index * BLOCK + PER_INDEX + i] = block >> 8;
  }

  private pointers(index: number): number[] {
    const at = this.place(index);
    const bytes = this.bytes.subarray(at, at + BLOCK);
    return Array.from({ length: PER_INDEX }, (_, i) => pointerIn(bytes, i)).filter(
      (block) => block !== 0 && block < this.total,
    );
  }

  /** The blocks of contents of one storage type, their indexes too. */
  private blocksFrom(storage: number, key: number): number[] {
    if (storage === SEEDLING) return [key];
    if (storage === SAPLING) return [key, ...this.pointers(key)];
    if (storage !== TREE) return [];
    return [key, ...this.pointers(key).flatMap((index) => [index, ...this.pointers(index)])];
  }

  /** Every block of the file whose entry is at `at`: of two forks, those of both. */
  blocksOf(at: number): number[] {
    const storage = this.storageAt(at);
    const key = this.number(at, ENTRY_FIELDS.keyBlock);
    if (storage <= TREE) return this.blocksFrom(storage, key);
    const forks = [0, 256].flatMap((half) => {
      const record = this.place(key) + half;
      const first = this.number(record, FORK_FIELDS.keyBlock);
      const own = this.bytes[record]! & 15;
      return own === SEEDLING && first === 0 ? [] : this.blocksFrom(own, first);
    });
    return [key, ...forks];
  }

  /** Its own system swaps the halves of a removed file's index: so it is told from a live one. */
  swapIndex(at: number): void {
    const storage = this.storageAt(at);
    if (storage !== SAPLING && storage !== TREE) return;
    const offset = this.place(this.number(at, ENTRY_FIELDS.keyBlock));
    const half = this.bytes.slice(offset, offset + PER_INDEX);
    this.bytes.copyWithin(offset, offset + PER_INDEX, offset + BLOCK);
    this.bytes.set(half, offset + PER_INDEX);
  }

  folderBlocks(key: number): number[] {
    const blocks: number[] = [];
    for (let block = key; block !== 0;) {
      blocks.push(block);
      if (blocks.length > this.total)
        throw new VolumeRefusal('damaged', said('prodos.aFolderOfThis'));
      block = this.number(this.place(block), LINKS.blockAfter);
    }
    return blocks;
  }

  /** Byte offsets of a folder's entries, in order, without its header. */
  *entriesOf(key: number): Generator<number> {
    for (const block of this.folderBlocks(key))
      for (let i = block === key ? 1 : 0; i < PER_BLOCK; i++)
        yield block * BLOCK + FIRST_RECORD + i * ENTRY;
  }

  isOpen(at: number): boolean {
    return this.storageAt(at) === 0;
  }

  openEntry(key: number): number | null {
    for (const at of this.entriesOf(key)) if (this.isOpen(at)) return at;
    return null;
  }

  /** One block more for a folder; gives the place of its first entry. */
  growFolder(key: number): number {
    const blocks = this.folderBlocks(key);
    const last = blocks[blocks.length - 1]!;
    const block = this.take();
    this.clear(block);
    this.put(block * BLOCK, LINKS.blockBefore, last);
    this.put(last * BLOCK, LINKS.blockAfter, block);
    // The entry that lists the folder knows its size.
    const header = key * BLOCK + FIRST_RECORD;
    const listed =
      this.number(header, FOLDER_HEADER_FIELDS.listedInBlock) * BLOCK +
      FIRST_RECORD +
      (this.number(header, FOLDER_HEADER_FIELDS.listedAsEntry) - 1) * ENTRY;
    this.put(listed, ENTRY_FIELDS.blocks, blocks.length + 1);
    this.put(listed, ENTRY_FIELDS.bytes, (blocks.length + 1) * BLOCK);
    return block * BLOCK + FIRST_RECORD;
  }

  /** How many files a folder says it has. */
  countFiles(key: number, by: 1 | -1): void {
    const at = key * BLOCK + FIRST_RECORD;
    this.put(at, HEADER_FIELDS.files, this.number(at, HEADER_FIELDS.files) + by);
  }
}
