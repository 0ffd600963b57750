/** Which of the blocks that were written do not come back as they were written. */
import { sameBytes } from '@/core/bits/same-bytes';
import type { BlocksRead } from '@/benchlink/device-link';

/** Blocks asked for one by one where a device does not say which one failed. */
const ONE_BY_ONE = 64;

export interface BlockRun {
  from: number;
  to: number;
}

function addTo(runs: BlockRun[], block: number): void {
  const last = runs[runs.length - 1];
  if (last?.to === block) last.to++;
  else runs.push({ from: block, to: block + 1 });
}

/** Runs of blocks that do not read, or read as something else than `bytes`, from `first` on. */
export async function blocksThatDiffer(
  read: (from: number, count: number) => Promise<BlocksRead>,
  { first, blockBytes, bytes }: { first: number; blockBytes: number; bytes: Uint8Array },
): Promise<BlockRun[]> {
  const wrong: BlockRun[] = [];
  const count = bytes.length / blockBytes;
  const wanted = (i: number) => bytes.subarray(i * blockBytes, (i + 1) * blockBytes);
  const check = (done: number, back: BlocksRead) => {
    for (let i = 0; i < back.got; i++) {
      const block = back.bytes.subarray(i * blockBytes, (i + 1) * blockBytes);
      if (!sameBytes(block, wanted(done + i))) addTo(wrong, first + done + i);
    }
  };
  for (let done = 0; done < count;) {
    const back = await read(first + done, count - done);
    check(done, back);
    done += back.got;
    if (!back.stopped || done >= count) continue;
    if (back.stopped.toldWhere) {
      addTo(wrong, first + done++);
      continue;
    }
    for (const end = Math.min(count, done + ONE_BY_ONE); done < end; done++) {
      const one = await read(first + done, 1);
      if (one.got === 1) check(done, one);
      else addTo(wrong, first + done);
    }
  }
  return wrong;
}
