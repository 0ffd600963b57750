/**
 * `npm start` as a process: it brings back what was killed under it, begins once, takes over from a
 * supervisor that was killed, and ends in time with a page open.
 */
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { until } from '../../support/application';

const ROOT = join(__dirname, '..', '..', '..');
const START = join(ROOT, 'scripts', 'start.mjs');

const freePort = () =>
  new Promise<number>((resolve) => {
    const server = createServer();
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });

let folder: string;
let env: NodeJS.ProcessEnv;
let url: string;
const started: ChildProcess[] = [];

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'spindle-start-'));
  const [web, bench, database] = await Promise.all([freePort(), freePort(), freePort()]);
  url = `http://127.0.0.1:${web}`;
  env = {
    ...process.env,
    SPINDLE_DATA: folder,
    SPINDLE_PORT: String(web),
    SPINDLE_BENCH_PORT: String(bench),
    SPINDLE_DB_PORT: String(database),
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
  database: number;
}
/** What is known of the run; nothing while one start takes over from another. */
function run(): Run {
  try {
    return JSON.parse(readFileSync(join(folder, 'running.json'), 'utf8')) as Run;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    return { pid: 0, url: null, children: [], database: 0 };
  }
}

/** The pages answer from the database. */
const isUp = () =>
  fetch(`${url}/api/stations`, { signal: AbortSignal.timeout(5000) }).then(
    ({ ok }) => ok,
    () => false,
  );
const isReady = async () => (await isUp()) && run().url !== null;

test('killed parts come back, a second start says so, a killed supervisor is taken over from, and all ends in time', async () => {
  const first = start();
  await until('the application', isReady);
  const { database, children } = run();

  process.kill(database, 'SIGKILL');
  for (const pid of children) process.kill(pid, 'SIGKILL');
  await until('other processes', () => run().children.every((pid) => !children.includes(pid)));
  await until('the application again', isUp);

  const second = spawnSync(process.execPath, [START], { cwd: ROOT, env, encoding: 'utf8' });
  expect([second.status, (second.stdout + second.stderr).includes(url)]).toEqual([0, true]);
  expect(run().pid).toBe(first.pid);

  first.kill('SIGKILL');
  await until('the end of the supervisor', () => hasEnded(first));
  const orphans = run().children;
  const next = start();
  await until('another supervisor', () => run().pid === next.pid);
  await until('the application of the next start', isReady);
  expect(orphans.filter((pid) => run().children.includes(pid))).toEqual([]);

  const open = await fetch(`${url}/api/events`);
  expect(open.ok).toBe(true);
  const asked = Date.now();
  next.kill('SIGTERM');
  await until('its end', () => hasEnded(next));
  // Ten seconds are wanted of a machine that does nothing else.
  expect([next.exitCode, Date.now() - asked < 30_000]).toEqual([0, true]);
  expect(await isUp()).toBe(false);
});
