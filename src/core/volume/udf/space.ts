/**
 * Where the blocks of a UDF volume lie: its partitions, and the maps by which addresses mean them
 * (ECMA-167 part 3; OSTA UDF 2.2.8).
 */
import type { ByteSource } from '@/core/bits/byte-source';
import { said } from '@/core/said';
import type { ProblemList } from '../extent-volume';
import type { Extent } from '../volume';
import { SECTOR, ascii, viewOf } from './records';
import { TAG, dstring, longAddress, readTag, type LongAddress } from './tags';

const MOST_DESCRIPTORS = 256;

/** First byte of the partition maps in a logical volume's descriptor. */
const MAPS = 440;

const BLOCK_SIZES = [512, 1024, 2048, 4096];

interface Partition {
  start: number;
  blocks: number;
}

export class UdfSpace {
  label: string | null = null;
  blockBytes = SECTOR;
  private fileSet: LongAddress | null = null;
  private readonly partitions = new Map<number, Partition>();
  /**
   * Which partition a reference means, in the order of the logical volume's maps; null where its
   * kind is not read here.
   */
  private readonly maps: (number | null)[] = [];

  constructor(
    readonly source: ByteSource,
    readonly problems: ProblemList,
  ) {}

  /** Reads the logical volume's descriptors; gives the place of its file set. */
  async descriptors({ offset, length }: Extent): Promise<LongAddress | null> {
    let [at, end] = [offset, offset + Math.min(length, MOST_DESCRIPTORS * SECTOR)];
    for (let count = 0; at < end && count < MOST_DESCRIPTORS; count++, at += SECTOR) {
      const bytes = await this.source.read(at, SECTOR);
      const tag = readTag(bytes, at / SECTOR, at, this.problems);
      if (tag && !tag.sound) continue;
      if (!tag || tag.id === TAG.end || bytes.length < SECTOR) break;
      const view = viewOf(bytes);
      if (tag.id === TAG.pointer) {
        at = view.getUint32(24, true) * SECTOR - SECTOR;
        end = at + SECTOR + Math.min(view.getUint32(20, true), MOST_DESCRIPTORS * SECTOR);
      } else if (tag.id === TAG.partition) this.addPartition(view);
      else if (tag.id === TAG.logicalVolume) this.readVolume(bytes, view);
    }
    return this.fileSet;
  }

  private addPartition(view: DataView): void {
    this.partitions.set(view.getUint16(22, true), {
      start: view.getUint32(188, true),
      blocks: view.getUint32(192, true),
    });
  }

  private readVolume(bytes: Uint8Array, view: DataView): void {
    this.label = dstring(bytes.subarray(84, 212)) || null;
    const size = view.getUint32(212, true);
    if (BLOCK_SIZES.includes(size)) this.blockBytes = size;
    this.fileSet = longAddress(view, 248);
    this.maps.length = 0;
    const count = view.getUint32(268, true);
    for (let at = MAPS, i = 0; i < count && at + 2 <= bytes.length; i++) {
      const length = bytes[at + 1]!;
      if (length < 6) break;
      this.maps.push(this.mapAt(bytes, at));
      at += length;
    }
  }

  /** The partition that a map means. */
  private mapAt(bytes: Uint8Array, at: number): number | null {
    const view = viewOf(bytes);
    const name = ascii(bytes.subarray(at + 5, at + 28));
    if (bytes[at] === 1) return view.getUint16(at + 4, true);
    // Spare packets lie in the same partition; those that were moved are read where they were,
    // and fail their check.
    if (bytes[at] === 2 && name.startsWith('*UDF Sparable Partition'))
      return view.getUint16(at + 38, true);
    const shown = name.replace(/[^\x20-\x7e]/g, '') || `type ${bytes[at]}`;
    this.problems.report('descriptor-damaged', null, said('udf.aPartitionMapOf', { name: shown }));
    return null;
  }

  /** The place of a block of a partition; null where there is none. */
  placeOf({ block, partition }: Pick<LongAddress, 'block' | 'partition'>): number | null {
    const number = this.maps[partition] ?? null;
    const own = number === null ? undefined : this.partitions.get(number);
    if (!own || block >= own.blocks) return null;
    const at = own.start * SECTOR + block * this.blockBytes;
    return at < this.source.size ? at : null;
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
