// `npm start`: sets up what is missing, starts the database, the bench, the worker and the pages,
// and stops them together.
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  buildPagesIfStale,
  bundleIfStale,
  diskFull,
  installPackages,
  ROOT,
  run,
  say,
  SetupError,
} from './lib/prepare.mjs';
import { startPostgres } from './lib/postgres.mjs';
import {
  isTaken,
  languageEnv,
  refuseIfTaken,
  startProcess,
  waitForPages,
} from './lib/processes.mjs';

const development = process.argv.includes('--dev');
const dataFolder = process.env.SPINDLE_DATA ?? join(ROOT, 'data');
const ports = {
  web: Number(process.env.SPINDLE_PORT ?? 4700),
  bench: Number(process.env.SPINDLE_BENCH_PORT ?? 4717),
  database: Number(process.env.SPINDLE_DB_PORT ?? 54717),
};
const url = `http://127.0.0.1:${ports.web}`;
const runFile = join(dataFolder, 'running.json');

/** An application of this folder that runs already, or null. */
async function runningAlready() {
  if (!existsSync(runFile)) return null;
  const { pid, url: there, port } = JSON.parse(readFileSync(runFile, 'utf8'));
  try {
    process.kill(pid, 0);
  } catch (error) {
    if (error.code !== 'EPERM') return null;
  }
  return (await isTaken(port)) ? there : null;
}

const stops = [];
let stopped = null;
async function stopAll() {
  // Last started, first stopped: the database goes when nobody needs it any more.
  for (const stop of stops.splice(0).reverse()) await stop().catch((error) => say(String(error)));
  rmSync(runFile, { force: true });
}
const leave = (code) => (stopped ??= stopAll().then(() => process.exit(code)));
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => leave(0));

try {
  const there = await runningAlready();
  if (there) {
    say(`Frail Spindle runs already: ${there}`);
    process.exit(0);
  }
  mkdirSync(dataFolder, { recursive: true });
  await installPackages();
  await refuseIfTaken(ports.web, 'the pages', 'SPINDLE_PORT');
  await refuseIfTaken(ports.bench, 'the simulated bench', 'SPINDLE_BENCH_PORT');
  await bundleIfStale();
  if (!development) await buildPagesIfStale();

  const postgres = await startPostgres({ dataFolder, port: ports.database });
  stops.push(postgres.stop);
  const env = {
    DATABASE_URL: postgres.url,
    SPINDLE_BENCH: `127.0.0.1:${ports.bench}`,
    SPINDLE_SHELF: join(dataFolder, 'shelf'),
    NODE_ENV: development ? 'development' : 'production',
    NEXT_TELEMETRY_DISABLED: '1',
    ...languageEnv(process.env.SPINDLE_LANGUAGE),
  };
  await run(process.execPath, ['build/migrate.js'], { env: { ...process.env, ...env } });
  const start = (name, args, options) => {
    const child = startProcess(name, args, { env, ...options });
    stops.push(child.stop);
    return child;
  };
  // The bench's shelf must be there before the bench looks at it.
  await run(process.execPath, ['build/demo.js', 'shelf'], { env: { ...process.env, ...env } });
  start('bench', [
    'build/standin.js',
    `--shelf=${env.SPINDLE_SHELF}`,
    `--speed=${process.env.SPINDLE_BENCH_SPEED ?? 6}`,
    `--port=${ports.bench}`,
  ]);
  await run(process.execPath, ['build/demo.js', 'fill'], { env: { ...process.env, ...env } });
  start('worker', ['build/worker.js'], { watched: true });
  start('pages', [
    'node_modules/next/dist/bin/next',
    development ? 'dev' : 'start',
    '-H',
    '127.0.0.1',
    '-p',
    String(ports.web),
  ]);
  await waitForPages(url, development ? 120 : 60);
  writeFileSync(runFile, JSON.stringify({ pid: process.pid, url, port: ports.web }));
  say(`\nFrail Spindle is ready: ${url}\nCtrl-C stops it.`);
} catch (error) {
  const sentence = error instanceof SetupError ? error.message : diskFull(error);
  say(sentence ?? error.stack);
  await leave(1);
}
