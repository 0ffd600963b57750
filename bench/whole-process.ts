/** Whole processes timed: from their start to their end, the middle one of several. */
import { spawn, spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

const RUNS = 5;
const LOOK_MS = 20;

/** Median seconds; `before` is done before each run and not counted. */
export function seconds(
  command: string,
  args: readonly string[],
  before: () => void = () => undefined,
): number {
  const all = Array.from({ length: RUNS }, () => {
    before();
    const start = performance.now();
    const { status, stderr } = spawnSync(command, args, {
      stdio: ['ignore', 'ignore', 'pipe'],
      encoding: 'utf8',
    });
    if (status !== 0) throw new Error(`${command} ended with ${status}: ${stderr}`);
    return (performance.now() - start) / 1000;
  });
  return all.sort((a, b) => a - b)[RUNS >> 1]!;
}

/** Most megabytes that a process has in memory, by the kernel's own account. */
export async function residentMB(command: string, args: readonly string[]): Promise<number> {
  const child = spawn(command, args, { stdio: 'ignore' });
  let most = 0;
  const look = setInterval(() => {
    try {
      const status = readFileSync(`/proc/${child.pid}/status`, 'utf8');
      most = Math.max(most, Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
    } catch {
      // It has ended meanwhile.
    }
  }, LOOK_MS);
  await new Promise((resolve) => child.once('exit', resolve));
  clearInterval(look);
  return most;
}
