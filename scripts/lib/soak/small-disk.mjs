// A disk of its own for a soak's house, so small that it can be filled: a file system in memory,
// which only root can have.
import { execFileSync } from 'node:child_process';
import { closeSync, openSync, rmSync, statfsSync, writeSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';

const BYTES = 8 * 2 ** 30;

/** Whether the folder lies on one now. */
export function mountSmallDisk(folder) {
  if (process.getuid?.() !== 0) return false;
  try {
    execFileSync('mount', ['-t', 'tmpfs', '-o', `size=${BYTES},mode=755`, 'soak', folder]);
    return true;
  } catch {
    return false;
  }
}

export const unmountSmallDisk = (folder) => execFileSync('umount', ['--lazy', folder]);

/** Others go on writing while it is filled: the last of it is taken piece by piece. */
const LEFT = 32 << 20;
const PIECE = Buffer.alloc(64 << 10);

function fillUp(ballast) {
  const { bavail, bsize } = statfsSync(dirname(ballast));
  execFileSync('fallocate', ['--length', String(Math.max(1, bavail * bsize - LEFT)), ballast]);
  const file = openSync(ballast, 'a');
  try {
    for (;;) writeSync(file, PIECE);
  } catch (error) {
    if (error.code !== 'ENOSPC') throw error;
  } finally {
    closeSync(file);
  }
}

/** Leaves nothing free for a while. */
export async function fillFor(folder, ms) {
  const ballast = join(folder, 'ballast');
  try {
    fillUp(ballast);
    await sleep(ms);
  } finally {
    rmSync(ballast, { force: true });
  }
}
