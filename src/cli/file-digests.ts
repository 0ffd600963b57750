/** Digests of the files of one volume, each read once, out of what may be read of its image. */
import { toHex } from '@/core/digester';
import { sectorsIn, type Doubts } from '@/core/block/image-doubts';
import { EndedEarly } from '@/core/volume/ended-early';
import { doubtsOfFile } from '@/core/volume/extent-source';
import { ReadOnce, type ReadingBudget } from '@/core/volume/reading-budget';
import { isWhole, type Extent, type Volume, type VolumeEntry } from '@/core/volume/volume';
import { nodeDigester } from '@/node/digester';

/** Null of a file that ends before its last byte. */
async function digestOf(volume: Volume, entry: VolumeEntry): Promise<string | null> {
  const hash = nodeDigester.sha256Stream();
  let length = 0;
  for await (const bytes of volume.stream(entry)) {
    hash.update(bytes);
    length += bytes.length;
  }
  return length < entry.bytes ? null : toHex(hash.digest());
}

interface Looked {
  /** Null of what is cut or damaged, and of what is left out. */
  sha256: string | null;
  /** What is there is not all of it. */
  damaged: boolean;
  /** Where in it no sound reading supplied the bytes, and how many sectors that are. */
  doubts: readonly Extent[];
  sectorsInDoubt: number;
}

/** The image that a volume lies in: where, and what is in doubt of it once it was read. */
export interface OnImage {
  budget: ReadingBudget;
  offset: number;
  doubts: () => Doubts;
}

/** Reads files, and notes those that proved damaged by it. */
export function digestsOf(
  volume: Volume,
  { budget, offset, doubts: doubtsOfImage }: OnImage,
): { of(entry: VolumeEntry): Promise<Looked>; ended: EndedEarly } {
  const once = new ReadOnce<{ sha256: string | null }>(budget);
  const ended = new EndedEarly();
  async function of(entry: VolumeEntry): Promise<Looked> {
    const looked = await lookInto(entry);
    const inDoubt = doubtsOfImage();
    const { doubts, recorded } = doubtsOfFile(entry, offset, inDoubt.ranges);
    return { ...looked, doubts, sectorsInDoubt: sectorsIn({ ...inDoubt, ranges: recorded }) };
  }
  async function lookInto(entry: VolumeEntry): Promise<Pick<Looked, 'sha256' | 'damaged'>> {
    const { damaged } = entry;
    if (!isWhole(entry)) return { sha256: null, damaged };
    const read = await once.of(entry, async () => ({ sha256: await digestOf(volume, entry) }));
    if (!read || read.sha256 !== null) return { sha256: read?.sha256 ?? null, damaged };
    ended.add(entry);
    return { sha256: null, damaged: true };
  }
  return { of, ended };
}
