/**
 * Starts at one moment over what a killed supervisor left: one of them has the folder, and ends
 * what was left, whatever the others do in between.
 */
import { once } from 'node:events';
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createInterface } from 'node:readline';

const ROOT = join(__dirname, '..', '..', '..');
const STARTS = 6;

let folder: string;
const children: ChildProcess[] = [];

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'spindle-run-'));
});
afterEach(() => {
  for (const child of children.splice(0)) child.kill('SIGKILL');
  rmSync(folder, { recursive: true, force: true });
});

function run(args: string[]): ChildProcess {
  const child = spawn(process.execPath, args, { cwd: ROOT, stdio: ['pipe', 'pipe', 'inherit'] });
  children.push(child);
  return child;
}

/** Called as the supervisor is; it takes the folder once it is told to, and says what came of it. */
const START = `
  import { RunFile } from './scripts/lib/run-file.mjs';
  process.stdin.once('data', async () => {
    const other = await new RunFile(process.argv[1]).take();
    console.log(JSON.stringify({ has: other === null, other }));
  });
  console.log('ready');
`;
async function starter() {
  const child = run(['--input-type=module', '--eval', START, folder, 'start.mjs']);
  const lines = createInterface(child.stdout!)[Symbol.asyncIterator]();
  const line = async () => String((await lines.next()).value);
  expect(await line()).toBe('ready');
  return { child, line };
}

/** What takes half a second to end, as a program that puts something down. */
const LEFT = `
  process.on('SIGTERM', () => setTimeout(() => process.exit(0), 500));
  console.log('there');
  setInterval(() => undefined, 1000);
`;
async function leave(): Promise<ChildProcess[]> {
  const left = [0, 1].map(() => run(['--eval', LEFT]));
  await Promise.all(left.map(({ stdout }) => once(stdout!, 'data')));
  const gone = run(['--eval', '']);
  await once(gone, 'exit');
  const state = { pid: gone.pid, url: null, children: left.map(({ pid }) => pid) };
  writeFileSync(join(folder, 'running.json'), JSON.stringify(state));
  return left;
}

interface Outcome {
  has: boolean;
  other: { pid: number } | null;
}

test.each([1, 2, 3])('one of several starts has the folder, and nothing is left (%i)', async () => {
  const left = await leave();
  const starts = await Promise.all(Array.from({ length: STARTS }, starter));
  for (const { child } of starts) child.stdin!.write('go\n');
  const outcomes = await Promise.all(
    starts.map(async ({ line }) => JSON.parse(await line()) as Outcome),
  );
  const winner = starts.filter((_, i) => outcomes[i]!.has);
  expect(winner).toHaveLength(1);
  const others = outcomes.flatMap(({ other }) => (other ? [other.pid] : []));
  expect(others).toEqual(Array(STARTS - 1).fill(winner[0]!.child.pid));
  expect(left.map(({ exitCode }) => exitCode)).toEqual([0, 0]);
});

test('the folder is free once its supervisor is gone, however it ended', async () => {
  for (const signal of ['SIGTERM', 'SIGKILL'] as const) {
    const { child, line } = await starter();
    child.stdin!.write('go\n');
    expect(JSON.parse(await line())).toEqual({ has: true, other: null });
    child.kill(signal);
    await once(child, 'exit');
  }
});
