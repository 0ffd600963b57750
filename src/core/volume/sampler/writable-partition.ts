/**
 * One partition of a sampler disk, laid open to be changed: its chains, its volumes and their
 * directories. Whatever contradicts itself is refused before anything is written.
 */
import { said } from '@/core/said';
import { bytesIn, numberIn, putNumber, u16 } from '../record';
import { safeName } from '../safe-name';
import { VolumeRefusal } from '../writable';
import { linkIn, volumesIn } from './header';
import {
  BLOCK,
  CAPACITY,
  CHAIN_TABLE,
  END_OF_LIST,
  ENTRY,
  ENTRY_FIELDS,
  HEADER_BLOCKS,
  LAST_BLOCK,
  PER_BLOCK,
  SYSTEM,
  VOLUME,
  VOLUMES,
  VOLUME_FIELDS,
  VOLUME_TABLE,
  isName,
  nameOf,
} from './records';

/** Places of a partition's volume entries and directory entries are bytes of it. */
export class WritablePartition {
  /** How many blocks its table of chains can tell of. */
  private readonly blocks: number;

  constructor(
    readonly bytes: Uint8Array,
    readonly letter: string,
  ) {
    const tableEnd = Math.floor((HEADER_BLOCKS * BLOCK - CHAIN_TABLE) / 2);
    this.blocks = Math.min(bytes.length / BLOCK, tableEnd);
    this.refuseContradictions();
  }

  /** Blocks that its files and directories can have. */
  get total(): number {
    return this.blocks - HEADER_BLOCKS;
  }

  freeBlocks(): number[] {
    return Array.from({ length: this.blocks }, (_, block) => block).filter(
      (block) => linkIn(this.bytes, block) === 0,
    );
  }

  freeVolumes(): number {
    return VOLUMES - volumesIn(this.bytes).length;
  }

  /** Place of the volume that is listed under this name; null where there is none. */
  findVolume(name: string): number | null {
    const found = volumesIn(this.bytes).find(({ at }) => isCalled(this.bytes, at, name));
    return found?.at ?? null;
  }

  /** Places of all entries of a volume's directory, as many as it has room for. */
  slotsOf(volume: number): number[] {
    const type = numberIn(this.bytes, VOLUME_FIELDS.fileType, volume);
    const blocks = this.directoryOf(volume);
    const most = Math.min(CAPACITY[type] ?? 0, blocks.length * PER_BLOCK);
    return Array.from(
      { length: most },
      (_, i) => blocks[Math.floor(i / PER_BLOCK)]! * BLOCK + (i % PER_BLOCK) * ENTRY,
    );
  }

  /** Places of the entries that are files. */
  filesOf(volume: number): number[] {
    return this.slotsOf(volume).filter(
      (at) =>
        numberIn(this.bytes, ENTRY_FIELDS.fileType, at) !== 0 &&
        isName(bytesIn(this.bytes, ENTRY_FIELDS.name, at)),
    );
  }

  findFile(volume: number, name: string): number | null {
    return this.filesOf(volume).find((at) => isCalled(this.bytes, at, name)) ?? null;
  }

  directoryOf(volume: number): number[] {
    const isShort = numberIn(this.bytes, VOLUME_FIELDS.fileType, volume) === 1;
    return this.chain(numberIn(this.bytes, VOLUME_FIELDS.firstBlock, volume), isShort);
  }

  blocksOf(file: number): number[] {
    return this.chain(numberIn(this.bytes, ENTRY_FIELDS.firstBlock, file), false);
  }

  /** The lowest free blocks, made one chain; there must be enough. */
  take(count: number): number[] {
    const taken = this.freeBlocks().slice(0, count);
    for (const [i, block] of taken.entries()) this.setLink(block, taken[i + 1] ?? LAST_BLOCK);
    return taken;
  }

  release(blocks: readonly number[]): void {
    for (const block of blocks) this.setLink(block, 0);
  }

  /** Writes bytes over blocks, with zeros behind them. */
  write(blocks: readonly number[], bytes: Uint8Array): void {
    for (const [i, block] of blocks.entries()) {
      const at = block * BLOCK;
      this.bytes.fill(0, at, at + BLOCK);
      this.bytes.set(bytes.subarray(i * BLOCK, (i + 1) * BLOCK), at);
    }
  }

  /** Takes an entry out of its directory; those behind it move up, so that none lies behind a gap. */
  dropEntry(volume: number, file: number): void {
    const slots = this.slotsOf(volume);
    const last = slots.indexOf(this.filesOf(volume).at(-1)!);
    for (let i = slots.indexOf(file); i < last; i++)
      this.bytes.copyWithin(slots[i]!, slots[i + 1]!, slots[i + 1]! + ENTRY);
    this.bytes.fill(0, slots[last]!, slots[last]! + ENTRY);
  }

  /** Place of the first volume entry that is free; null where none is. */
  openVolume(): number | null {
    for (let at = VOLUME_TABLE; at < VOLUME_TABLE + VOLUMES * VOLUME; at += VOLUME)
      if (numberIn(this.bytes, VOLUME_FIELDS.fileType, at) === 0) return at;
    return null;
  }

  private setLink(block: number, next: number): void {
    putNumber(this.bytes, u16(CHAIN_TABLE + block * 2), next);
  }

  /** The blocks of a chain, to its end; refuses one that has none. */
  private chain(first: number, endsWithSystem: boolean): number[] {
    const blocks: number[] = [];
    for (let block = first; blocks.length <= this.blocks;) {
      if (block < HEADER_BLOCKS || block >= this.blocks) break;
      blocks.push(block);
      const next = linkIn(this.bytes, block);
      if (next & END_OF_LIST || (endsWithSystem && next === SYSTEM)) return blocks;
      block = next;
    }
    throw this.contradiction();
  }

  private contradiction(): VolumeRefusal {
    const { letter } = this;
    return new VolumeRefusal('damaged', said('sampler.cantBeChanged', { letter }));
  }

  /** Every volume of a known type, every chain ended, no block in two of them. */
  private refuseContradictions(): void {
    const owned = new Set<number>();
    const own = (blocks: readonly number[]) => {
      for (const block of blocks) {
        if (owned.has(block)) throw this.contradiction();
        owned.add(block);
      }
    };
    for (const { at, type } of volumesIn(this.bytes)) {
      const isKnown = CAPACITY[type] !== undefined && isName(bytesIn(this.bytes, NAME, at));
      if (!isKnown) throw this.contradiction();
      own(this.directoryOf(at));
      for (const file of this.filesOf(at)) own(this.blocksOf(file));
    }
  }
}

/** Names stand first, in entries of volumes and of files. */
const NAME = VOLUME_FIELDS.name;

const isCalled = (bytes: Uint8Array, at: number, name: string): boolean =>
  safeName(nameOf(bytesIn(bytes, NAME, at))) === safeName(name);
