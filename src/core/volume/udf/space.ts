/**
 * Where the blocks of a UDF volume lie: its partitions, and the maps by which addresses mean them
 * (ECMA-167 part 3; OSTA UDF 2.60).
 */
import type { ByteSource } from '@/core/bits/byte-source';
import type { ProblemList } from '../extent-volume';
import type { Extent } from '../volume';
import { freeBlocksBy } from './free-space';
import { loadMap, partitionBy } from './load-map';
import { blocksBy, type BlockMap, type Blocks, type Partition } from './partition-maps';
import { SECTOR, viewOf } from './records';
import { TAG, dstring, longAddress, readTag, type LongAddress } from './tags';

const MOST_DESCRIPTORS = 256;

/** First byte of the partition maps in a logical volume's descriptor. */
const MAPS = 440;
const LEAST_MAP = 6;
/** Where a partition's descriptor leads to the bitmap of its free blocks. */
const FREE_BITMAP = 64;

const BLOCK_SIZES = [512, 1024, 2048, 4096];

interface DescribedPartition extends Partition {
  /** Where its bitmap of free blocks stands, by a block of its own; of no length where it has none. */
  freeBitmap: Pick<LongAddress, 'block' | 'length'>;
}

export class UdfSpace implements Blocks {
  label: string | null = null;
  blockBytes: number;
  private fileSet: LongAddress | null = null;
  private readonly partitions = new Map<number, DescribedPartition>();
  /** The logical volume's maps as they are recorded. */
  private recorded: Uint8Array[] = [];
  private blocks: Blocks;
  /** What a reference means; null where its kind is not read here, or its tables are lost. */
  private maps: (BlockMap | null)[] = [];

  constructor(
    readonly source: ByteSource,
    readonly problems: ProblemList,
    readonly sectorBytes: number,
  ) {
    this.blockBytes = sectorBytes;
    this.blocks = blocksBy(() => null, this);
  }

  /** Reads the logical volume's descriptors; gives the place of its file set. */
  async descriptors({ offset, length }: Extent): Promise<LongAddress | null> {
    const { sectorBytes: step } = this;
    let [at, end] = [offset, offset + Math.min(length, MOST_DESCRIPTORS * step)];
    for (let count = 0; at < end && count < MOST_DESCRIPTORS; count++, at += step) {
      const bytes = await this.source.read(at, Math.max(step, SECTOR));
      const tag = readTag(bytes, at / step, at, this.problems);
      if (tag && !tag.sound) continue;
      if (!tag || tag.id === TAG.end || bytes.length < step) break;
      const view = viewOf(bytes);
      if (tag.id === TAG.pointer) {
        at = view.getUint32(24, true) * step - step;
        end = at + step + Math.min(view.getUint32(20, true), MOST_DESCRIPTORS * step);
      } else if (tag.id === TAG.partition) this.addPartition(view);
      else if (tag.id === TAG.logicalVolume) this.readVolume(bytes, view);
    }
    await this.loadMaps();
    return this.fileSet;
  }

  private addPartition(view: DataView): void {
    this.partitions.set(view.getUint16(22, true), {
      start: view.getUint32(188, true) * this.sectorBytes,
      blocks: view.getUint32(192, true),
      freeBitmap: {
        length: view.getUint32(FREE_BITMAP, true) & 0x3fffffff,
        block: view.getUint32(FREE_BITMAP + 4, true),
      },
    });
  }

  private readVolume(bytes: Uint8Array, view: DataView): void {
    this.label = dstring(bytes.subarray(84, 212)) || null;
    const size = view.getUint32(212, true);
    if (BLOCK_SIZES.includes(size)) this.blockBytes = size;
    this.fileSet = longAddress(view, 248);
    this.recorded = [];
    const count = view.getUint32(268, true);
    for (let at = MAPS, i = 0; i < count && at + LEAST_MAP <= bytes.length; i++) {
      const length = bytes[at + 1]!;
      if (length < LEAST_MAP) break;
      this.recorded.push(bytes.slice(at, at + length));
      at += length;
    }
  }

  /** A map may lead to a table, which lies in a partition whose descriptor comes behind it. */
  private async loadMaps(): Promise<void> {
    this.maps = [];
    for (const map of this.recorded) this.maps.push(await loadMap(this, map, this.partitions));
    this.blocks = blocksBy((reference) => this.maps[reference] ?? null, this);
  }

  /** Every reference leads somewhere. */
  get isComplete(): boolean {
    return this.maps.length > 0 && this.maps.every((map) => map !== null);
  }

  /** How many references there are. */
  get references(): number {
    return this.maps.length;
  }

  placeOf(address: Pick<LongAddress, 'block' | 'partition'>): number | null {
    return this.blocks.placeOf(address);
  }

  runsOf(address: Pick<LongAddress, 'block' | 'partition'>, length: number): Extent[] {
    return this.blocks.runsOf(address, length);
  }

  /** Bytes that nothing has, as far as its partitions say so. */
  async freeBytes(): Promise<number> {
    const most = Math.ceil(this.source.size / this.blockBytes);
    const counted = new Set<number>();
    let free = 0;
    for (const [reference, map] of this.recorded.entries()) {
      const number = partitionBy(map);
      const partition = number === null ? undefined : this.partitions.get(number);
      if (!partition || counted.has(number!)) continue;
      counted.add(number!);
      const address = { ...partition.freeBitmap, kind: 0, partition: reference };
      free += await freeBlocksBy(this, address, Math.min(partition.blocks, most));
    }
    return Math.min(free * this.blockBytes, this.source.size);
  }

  /** Where the root directory's entry is, by the file set. */
  async root(fileSet: LongAddress): Promise<LongAddress | null> {
    const at = this.placeOf(fileSet);
    if (at === null) return null;
    const bytes = await this.source.read(at, this.blockBytes);
    const tag = readTag(bytes, fileSet.block, at, this.problems);
    const isFileSet = tag?.id === TAG.fileSet && tag.sound && bytes.length >= 416;
    return isFileSet ? longAddress(viewOf(bytes), 400) : null;
  }
}
