/** The blocks of a file from its key on: one block, an index of up to 256, or an index of those. */
import type { ByteSource } from '@/core/bits/byte-source';
import { said, type Said } from '@/core/said';
import type { BlockOwners, ProblemList } from '../extent-volume';
import { MOST_TIMES_CROSSED } from '../reading-budget';
import { HOLE, type Extent } from '../volume';
import { BLOCK, SAPLING, SEEDLING, TREE, pointerIn } from './records';

const PER_INDEX = 256;

/** Indexes that an index of indexes points to. */
const MOST_INDEXES = 128;

const MOST_BLOCKS: Readonly<Record<number, number>> = Object.freeze({
  [SEEDLING]: 1,
  [SAPLING]: PER_INDEX,
  [TREE]: MOST_INDEXES * PER_INDEX,
});

export interface Fork {
  extents: Extent[];
  damaged: boolean;
  blocks: number[];
}

/** What an entry says of a file's contents. */
interface ForkPlace {
  storage: number;
  key: number;
  bytes: number;
}

/** Blocks of a volume: which there are, and which belong to whom. */
export class ProdosBlocks {
  /** Blocks that may still be followed although some file has them. */
  private crossingsLeft: number;

  constructor(
    private readonly source: ByteSource,
    readonly total: number,
    readonly owners: BlockOwners,
    private readonly problems: ProblemList,
  ) {
    this.crossingsLeft = total * MOST_TIMES_CROSSED;
  }

  /** Blocks that the image has of those that the volume claims. */
  get inImage(): number {
    return Math.min(this.total, Math.floor(this.source.size / BLOCK));
  }

  async read(block: number): Promise<Uint8Array | null> {
    const bytes = await this.source.read(block * BLOCK, BLOCK);
    return bytes.length === BLOCK ? bytes : null;
  }

  /** Whether a block is nobody's yet, or may be followed once more. */
  mayTake(block: number): boolean {
    return !this.owners.isOwned(block) || this.crossingsLeft-- > 0;
  }

  isThere(block: number): boolean {
    return block < this.total && (block + 1) * BLOCK <= this.source.size;
  }

  /** False where the block is another's already, which is said. */
  claim(block: number, owner: number, path: string): boolean {
    const other = this.owners.claim(block, owner);
    if (other)
      this.problems.report(
        'cross-linked',
        block * BLOCK,
        said('prodos.andShareBlock2', { path, other, block }),
      );
    return !other;
  }

  follow(place: ForkPlace, path: string, owner: number): Promise<Fork> {
    return new ForkReader(this, this.problems, path, owner).read(place);
  }
}

class ForkReader {
  private readonly fork: Fork = { extents: [], damaged: false, blocks: [] };

  constructor(
    private readonly blocks: ProdosBlocks,
    private readonly problems: ProblemList,
    private readonly path: string,
    private readonly owner: number,
  ) {}

  async read({ storage, key, bytes }: ForkPlace): Promise<Fork> {
    const needed = Math.ceil(bytes / BLOCK);
    if (storage === SEEDLING) this.addData(key);
    else if (storage === SAPLING) await this.addIndex(key, Math.min(PER_INDEX, needed));
    else if (storage === TREE) await this.addIndexes(key, needed);
    else this.tellNotThere(key);
    if (needed > (MOST_BLOCKS[storage] ?? 0) && !this.fork.damaged)
      this.damage('chain-too-short', said('prodos.saysItHasBytes', { path: this.path, bytes }));
    return this.fork;
  }

  private damage(kind: 'chain-too-short' | 'out-of-range', what: Said): void {
    this.problems.report(kind, null, what);
    this.fork.damaged = true;
  }

  private tellNotThere(block: number): void {
    this.damage('out-of-range', said('prodos.blockIsNotOn', { path: this.path, block }));
  }

  /** False where there is no such block, or none that may be followed. */
  private take(block: number): boolean {
    if (!this.blocks.isThere(block)) {
      this.tellNotThere(block);
      return false;
    }
    if (!this.blocks.mayTake(block)) {
      this.fork.damaged = true;
      return false;
    }
    if (!this.blocks.claim(block, this.owner, this.path)) this.fork.damaged = true;
    this.fork.blocks.push(block);
    return true;
  }

  private addHole(blocks: number): void {
    this.fork.extents.push({ offset: HOLE, length: blocks * BLOCK });
  }

  private addData(block: number): void {
    if (block === 0 || !this.take(block)) this.addHole(1);
    else this.fork.extents.push({ offset: block * BLOCK, length: BLOCK });
  }

  private async addIndex(block: number, count: number): Promise<void> {
    if (block === 0) {
      this.addHole(count);
      return;
    }
    const index = this.take(block) ? await this.blocks.read(block) : null;
    if (!index) return this.addHole(count);
    for (let i = 0; i < count; i++) this.addData(pointerIn(index, i));
  }

  private async addIndexes(block: number, needed: number): Promise<void> {
    const master = this.take(block) ? await this.blocks.read(block) : null;
    for (let i = 0, left = needed; left > 0 && i < MOST_INDEXES; i++, left -= PER_INDEX)
      await this.addIndex(master ? pointerIn(master, i) : 0, Math.min(PER_INDEX, left));
  }
}
