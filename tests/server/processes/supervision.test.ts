/**
 * `npm start` as a process: it brings back what was killed under it, begins once, takes over from a
 * supervisor that was killed, and ends with a page open.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort, until } from '../../support/application';

const ROOT = join(__dirname, '..', '..', '..');
const START = join(ROOT, 'scripts', 'start.mjs');

let folder: string;
let env: NodeJS.ProcessEnv;
let url: string;
const started: ChildProcess[] = [];

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'spindle-start-'));
  // So that the database's own user comes in, and nothing is kept elsewhere.
  chmodSync(folder, 0o755);
  const [web, bench, database, folders] = await Promise.all([1, 2, 3, 4].map(freePort));
  url = `http://127.0.0.1:${web}`;
  env = {
    ...process.env,
    SPINDLE_DATA: folder,
    SPINDLE_SAMPLE: 'none',
    SPINDLE_PORT: String(web),
    SPINDLE_BENCH_PORT: String(bench),
    SPINDLE_DB_PORT: String(database),
    SPINDLE_FOLDERS_PORT: String(folders),
  };
});
afterAll(async () => {
  for (const child of started) if (child.exitCode === null) child.kill('SIGTERM');
  await until('all of it to end', () => started.every((child) => hasEnded(child)));
  rmSync(folder, { recursive: true, force: true });
});

const hasEnded = ({ exitCode, signalCode }: ChildProcess) =>
  exitCode !== null || signalCode !== null;

function start(): ChildProcess {
  const child = spawn(process.execPath, [START], { cwd: ROOT, env, stdio: 'ignore' });
  started.push(child);
  return child;
}

interface Run {
  pid: number;
  url: string | null;
  children: number[];
}
/** What is known of the run; nothing while one start takes over from another. */
function run(): Run {
  try {
    return JSON.parse(readFileSync(join(folder, 'running.json'), 'utf8')) as Run;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    return { pid: 0, url: null, children: [] };
  }
}

/** The pages answer from the database. */
const isUp = () =>
  fetch(`${url}/api/stations`, { signal: AbortSignal.timeout(5000) }).then(
    ({ ok }) => ok,
    () => false,
  );
const isReady = async () => (await isUp()) && run().url !== null;

test('killed parts come back, a second start says so, a killed supervisor is taken over from, and all ends with a page open', async () => {
  const first = start();
  await until('the application', isReady);
  const { children } = run();

  const [database] = readFileSync(join(folder, 'postgres', 'postmaster.pid'), 'utf8').split('\n');
  process.kill(Number(database), 'SIGKILL');
  for (const pid of children) process.kill(pid, 'SIGKILL');
  await until('other processes', () => run().children.every((pid) => !children.includes(pid)));
  await until('the application again', isUp);

  const second = spawnSync(process.execPath, [START], { cwd: ROOT, env, encoding: 'utf8' });
  expect([second.status, (second.stdout + second.stderr).includes(url)]).toEqual([0, true]);
  expect(run().pid).toBe(first.pid);

  first.kill('SIGKILL');
  await until('the end of the supervisor', () => hasEnded(first));
  const orphans = run().children;
  // Two at once: one of them takes over, the other says so and ends.
  const both = [start(), start()];
  await until('one of them to end', () => both.some(hasEnded));
  const next = both.find((each) => !hasEnded(each))!;
  expect(both.filter(hasEnded).map(({ exitCode }) => exitCode)).toEqual([0]);
  await until('another supervisor', () => run().pid === next.pid);
  await until('the application of the next start', isReady);
  expect(orphans.filter((pid) => run().children.includes(pid))).toEqual([]);

  const open = await fetch(`${url}/api/events`);
  expect(open.ok).toBe(true);
  next.kill('SIGTERM');
  await until('its end', () => hasEnded(next));
  expect([next.exitCode, await isUp()]).toEqual([0, false]);
  expect(existsSync(join(folder, 'running.json'))).toBe(false);
});
