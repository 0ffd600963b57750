// `npm start`: sets up what is missing, starts the database, the bench, the worker and the pages,
// and stops them together.
import { randomBytes } from 'node:crypto';
import { mkdirSync } from 'node:fs';
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
  languageEnv,
  refuseIfTaken,
  startProcess,
  waitForPages,
  waitForPort,
} from './lib/processes.mjs';
import { RunFile } from './lib/run-file.mjs';

const development = process.argv.includes('--dev');
const dataFolder = process.env.SPINDLE_DATA ?? join(ROOT, 'data');
const ports = {
  web: Number(process.env.SPINDLE_PORT ?? 4700),
  bench: Number(process.env.SPINDLE_BENCH_PORT ?? 4717),
  database: Number(process.env.SPINDLE_DB_PORT ?? 54717),
  folders: Number(process.env.SPINDLE_FOLDERS_PORT ?? 4719),
};
/** A house of its own media begins with its stations alone. */
const filling = process.env.SPINDLE_SAMPLE === 'none' ? 'stations' : 'fill';
/** Seconds that the bench is waited for; without it the rest is there all the same. */
const BENCH_SECONDS = 30;

const url = `http://127.0.0.1:${ports.web}`;
mkdirSync(dataFolder, { recursive: true });
const runFile = new RunFile(dataFolder);

let database = null;
const programs = [];
let stopped = null;
/** The programs together, then the database, which all of them use. */
async function stopAll() {
  const told = (error) => say(String(error));
  await Promise.all(programs.map((program) => program.stop().catch(told)));
  await database?.stop().catch(told);
  runFile.release();
}
const leave = (code) => (stopped ??= stopAll().then(() => process.exit(code)));
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => leave(0));

try {
  const other = await runFile.take();
  if (other) {
    say(
      other.url
        ? `Frail Spindle runs already: ${other.url}`
        : `Frail Spindle is being started already${other.pid ? `, by process ${other.pid}` : ''}.`,
    );
    process.exit(0);
  }
  await installPackages();
  await refuseIfTaken(ports.web, 'the pages', 'SPINDLE_PORT');
  await refuseIfTaken(ports.folders, 'media as folders', 'SPINDLE_FOLDERS_PORT');
  await refuseIfTaken(ports.bench, 'the simulated bench', 'SPINDLE_BENCH_PORT');
  await bundleIfStale();
  if (!development) await buildPagesIfStale();

  database = await startPostgres({ dataFolder, port: ports.database });
  const env = {
    DATABASE_URL: database.appUrl,
    SPINDLE_STORE: database.cluster,
    SPINDLE_BENCH: `127.0.0.1:${ports.bench}`,
    // Of this run: nobody else on this computer moves the heads.
    SPINDLE_BENCH_TOKEN: randomBytes(18).toString('base64url'),
    SPINDLE_SHELF: join(dataFolder, 'shelf'),
    SPINDLE_FOLDERS_PORT: String(ports.folders),
    NODE_ENV: development ? 'development' : 'production',
    NEXT_TELEMETRY_DISABLED: '1',
    ...languageEnv(process.env.SPINDLE_LANGUAGE),
  };
  const asOwner = { ...process.env, ...env, DATABASE_URL: database.url };
  await run(process.execPath, ['build/migrate.js'], { env: asOwner });
  const start = (name, args, options) => {
    const onLaunch = () => runFile.update({ children: programs.map(({ pid }) => pid) });
    programs.push(startProcess(name, args, { env, onLaunch, ...options }));
    onLaunch();
  };
  // The bench's shelf must be there before the bench looks at it.
  await run(process.execPath, ['build/demo.js', 'shelf'], { env: { ...process.env, ...env } });
  start('bench', [
    'build/standin.js',
    `--shelf=${env.SPINDLE_SHELF}`,
    `--speed=${process.env.SPINDLE_BENCH_SPEED ?? 6}`,
    `--port=${ports.bench}`,
  ]);
  await waitForPort(ports.bench, BENCH_SECONDS);
  await run(process.execPath, ['build/demo.js', filling], {
    env: { ...process.env, ...env },
  }).catch((error) =>
    say(`The stations or the sample media were not all put in place: ${error.message}`),
  );
  start('worker', ['build/worker.js'], { watched: true });
  start('folders', ['build/folders.js']);
  start('pages', [
    'node_modules/next/dist/bin/next',
    development ? 'dev' : 'start',
    '-H',
    '127.0.0.1',
    '-p',
    String(ports.web),
  ]);
  await waitForPages(url, development ? 120 : 60);
  runFile.update({ url });
  say(`\nFrail Spindle is ready: ${url}\nCtrl-C stops it.`);
} catch (error) {
  const sentence = error instanceof SetupError ? error.message : diskFull(error);
  say(sentence ?? error.stack);
  await leave(1);
}
