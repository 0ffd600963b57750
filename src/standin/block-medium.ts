/**
 * A made-up hard disk or disc of the simulated bench: its blocks, and where it is bad, weak, slow,
 * stuck or scratched.
 */
import { closeSync, existsSync, openSync, readSync, writeSync } from 'node:fs';
import { z } from 'zod';
import { BlockMedium } from '@/core/block/device';
import { hashText, seededRandom } from '@/core/bits/random';
import { RAW_BYTES } from '@/core/optical/raw-sector';

const count = z.int().min(0);
const Stretch = z.object({ from: count, count });

/** One file of the shelf. */
export const BlockMediumFile = z.object({
  label: z.string(),
  form: z.enum(['hard-disk', 'optical-disc']),
  describes: z.string(),
  writeProtected: z.boolean(),
  medium: BlockMedium.omit({ health: true }),
  /** Its first blocks, in a file beside this one; the rest is made of the seed. */
  image: z.string().nullable(),
  seed: z.string(),
  /** Whether it says which block of a request failed. */
  tellsWhere: z.boolean().default(true),
  faults: z.object({
    bad: z.array(Stretch).default([]),
    /** Read at the try of that number. */
    weak: z.array(Stretch.extend({ needs: z.int().min(2) })).default([]),
    /** Take that long each. */
    slow: z.array(Stretch.extend({ ms: z.number() })).default([]),
    /** Never answer at all, at any but this speed where one is given. */
    stuck: z.array(Stretch.extend({ unless: z.number().optional() })).default([]),
    /** Bytes of a raw sector that come out wrong at full speed; at half of it half of them. */
    scratched: z.array(Stretch.extend({ bytes: z.int().min(1) })).default([]),
  }),
});
export type BlockMediumFile = z.output<typeof BlockMediumFile>;

type Faults = BlockMediumFile['faults'];

const within = <T extends { from: number; count: number }>(
  stretches: readonly T[],
  block: number,
): T | undefined =>
  stretches.find(({ from, count: blocks }) => block >= from && block < from + blocks);

export class BlockMediumInDrive {
  private readonly tries = new Map<number, number>();
  private readonly failed = new Set<number>();
  private readings = 0;

  /**
   * `writtenPath` keeps what was written, so that it is still there after the bench was switched
   * off.
   */
  constructor(
    readonly file: BlockMediumFile,
    private readonly imagePath: string | null,
    private readonly writtenPath: string,
  ) {}

  /** What is in the drive, as the drive says it. */
  describe(): BlockMedium {
    const { medium, form } = this.file;
    const health =
      form === 'hard-disk'
        ? [
            { name: 'hours on', value: 8211, unit: 'h' },
            { name: 'sectors set aside', value: 12, unit: '' },
            { name: 'sectors waiting to be set aside', value: this.failed.size, unit: '' },
          ]
        : null;
    return { ...medium, health };
  }

  /**
   * What happens when the head comes to a block: milliseconds beyond the usual, and why it does not
   * come.
   */
  visit(
    block: number,
    speed: number | null,
  ): { ms: number; stopped: 'unreadable' | 'time-out' | null } {
    const faults: Faults = this.file.faults;
    const stuck = within(faults.stuck, block);
    if (stuck && !(stuck.unless !== undefined && speed === stuck.unless))
      return { ms: 5000, stopped: 'time-out' };
    const weak = within(faults.weak, block);
    if (weak) this.tries.set(block, (this.tries.get(block) ?? 0) + 1);
    if (within(faults.bad, block) || (weak && this.tries.get(block)! < weak.needs)) {
      this.failed.add(block);
      return { ms: 900, stopped: 'unreadable' };
    }
    return { ms: within(faults.slow, block)?.ms ?? 0, stopped: null };
  }

  /**
   * `blocks` blocks from `from` on as they come off the medium, with the bytes that the drive
   * distrusts of raw sectors.
   */
  read(
    from: number,
    blocks: number,
    speedShare: number,
  ): { bytes: Uint8Array; flags: Uint8Array | null } {
    const { blockBytes } = this.file.medium;
    const bytes = this.perfect(from, blocks);
    if (blockBytes !== RAW_BYTES) return { bytes, flags: null };
    const flags = new Uint8Array((blocks * RAW_BYTES) / 8);
    const random = seededRandom(`${this.file.seed}/${from}/${this.readings++}`);
    for (let i = 0; i < blocks; i++) {
      const scratch = within(this.file.faults.scratched, from + i);
      if (!scratch) continue;
      const hurt = Math.max(1, Math.round(scratch.bytes * speedShare));
      // A scratch is a few bursts, which interleaving has spread over the sector.
      for (let n = 0; n < hurt; n++) {
        const at = i * RAW_BYTES + 12 + random.below(RAW_BYTES - 12);
        bytes[at]! ^= 1 + random.below(255);
        // The drive misses one in twenty.
        if (random.below(20) > 0) flags[at >> 3]! |= 0x80 >> (at & 7);
      }
    }
    return { bytes, flags };
  }

  /**
   * Only a medium without a content of its own is written on: then what was written is all there
   * is.
   */
  get canBeWritten(): boolean {
    return !this.file.writeProtected && this.imagePath === null && this.file.seed === '';
  }

  write(from: number, bytes: Uint8Array): void {
    const file = openSync(this.writtenPath, existsSync(this.writtenPath) ? 'r+' : 'w');
    try {
      writeSync(file, bytes, 0, bytes.length, from * this.file.medium.blockBytes);
    } finally {
      closeSync(file);
    }
  }

  private perfect(from: number, blocks: number): Uint8Array {
    const { blockBytes } = this.file.medium;
    const out = new Uint8Array(blocks * blockBytes);
    let done = 0;
    const path = this.imagePath ?? (existsSync(this.writtenPath) ? this.writtenPath : null);
    if (path) {
      const file = openSync(path, 'r');
      try {
        // Its last block may be cut: zeros follow.
        done = Math.ceil(readSync(file, out, 0, out.length, from * blockBytes) / blockBytes);
      } finally {
        closeSync(file);
      }
    }
    for (; done < blocks; done++)
      fillFrom(
        out.subarray(done * blockBytes, (done + 1) * blockBytes),
        this.file.seed,
        from + done,
      );
    return out;
  }
}

/** A block of noise that its number and the medium's seed make: the same at every reading. */
function fillFrom(block: Uint8Array, seed: string, number: number): void {
  if (seed === '') return;
  let state = (hashText(seed) ^ Math.imul(number + 1, 0x9e3779b1)) >>> 0 || 1;
  // A third of a made-up disc is zeros, as of most real ones.
  if (number % 3 === 2) return;
  for (let i = 0; i + 4 <= block.length; i += 4) {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    // Letters and blanks, so that it packs as text does.
    block[i] = 0x61 + (state & 15);
    block[i + 1] = 0x61 + ((state >>> 4) & 15);
    block[i + 2] = (state >>> 8) & 255;
    block[i + 3] = 0x20;
  }
}
