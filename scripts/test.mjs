// `npm test`: lint, types, unit tests, tests against the real database and bench, browser tests;
// ends with plain totals.
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { spawn } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  buildPagesIfStale,
  bundleIfStale,
  ensureBrowser,
  ensureCheckers,
  installPackages,
  ROOT,
  run,
  say,
  SetupError,
} from './lib/prepare.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { freePort } from './lib/processes.mjs';

const started = Date.now();
const seconds = () => `${Math.round((Date.now() - started) / 1000)} s`;
const SUITES = ['core', 'server', 'browser'];
const [only = null, ...others] = process.argv.slice(2);
// Each time in another order, of files and of the tests in them: no test hangs on another's.
const seed = Number.parseInt(process.env.SPINDLE_TEST_SEED ?? '', 10) || Date.now() % 2 ** 31;
const order = ['--randomize', `--seed=${seed}`, '--testSequencer=./scripts/lib/random-order.cjs'];
const stops = [];
const stopAll = async () => {
  for (const stop of stops.splice(0).reverse()) await stop();
};
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => stopAll().then(() => process.exit(1)));

const results = [];

/** Runs a check whose output a person reads. */
async function check(name, command, args) {
  say(`— ${name} (${seconds()})`);
  const ok = await run(command, args).then(
    () => true,
    () => false,
  );
  results.push({ name, passed: ok ? 1 : 0, failed: ok ? 0 : 1, skipped: 0 });
}

/**
 * What a person reads, two chains side by side: each takes one core. Behind the shorter one, what
 * the suites need is built.
 */
async function runChecks(build) {
  const bin = (name, ...args) => [process.execPath, [`node_modules/${name}`, ...args]];
  const quick = async () => {
    const prettier = bin('prettier/bin/prettier.cjs', '--check', '--log-level=warn', '.');
    await check('formatting', ...prettier);
    const cruise = bin(
      'dependency-cruiser/bin/dependency-cruise.mjs',
      '--config',
      '.dependency-cruiser.cjs',
      'src',
      'demo',
    );
    await check('arrows between folders', ...cruise);
    await check('nothing unused', ...bin('knip/bin/knip.js'));
    await check('every test in a suite', process.execPath, ['scripts/check-suites.mjs']);
    await check('another language', process.execPath, ['scripts/make-pseudo.mjs']);
    await check('types', ...bin('typescript/bin/tsc', '-p', '.'));
    await build();
  };
  const slow = async () => {
    await check('lint', ...bin('eslint/bin/eslint.js', '--max-warnings=0', '.'));
    const fuzz = ['scripts/fuzz.mjs', '--minutes', '2', '--threads', '1'];
    await check('hurt inputs', process.execPath, fuzz);
  };
  // What breaks one chain leaves nothing of the other running behind.
  const chains = await Promise.allSettled([quick(), slow()]);
  for (const { reason } of chains) if (reason) throw reason;
}

/** Which suite a test file belongs to, as `jest.config.mjs` has it. */
const suiteOf = (file) =>
  /[\\/]tests[\\/]browser[\\/]/.test(file)
    ? 'browser'
    : /[\\/]server[\\/]/.test(file)
      ? 'server'
      : 'core';

/**
 * Suites that one Jest runs, and on how many workers. The core has one of its own: what a server
 * suite loads may slow every later promise of its process (hooks of asynchronous storage).
 */
const RUNS = [
  { names: ['core'], workers: 1 },
  { names: ['server', 'browser'], workers: 2 },
];
const CORES = 2;

/** Runs suites of Jest, side by side, and takes their totals. */
async function runSuites(names, args, env) {
  say(`— ${names.join(', ')} tests (${seconds()})`);
  const runs = RUNS.map((each) => ({
    ...each,
    names: each.names.filter((name) => names.includes(name)),
  })).filter((each) => each.names.length > 0);
  await Promise.all(
    runs.map(({ names: own, workers }) =>
      runJest(own, runs.length === 1 ? Math.max(workers, CORES) : workers, args, env),
    ),
  );
}

async function runJest(names, workers, args, env) {
  const file = join(folder, `jest-${names.join('-')}.json`);
  await new Promise((resolve) => {
    const child = spawn(
      process.execPath,
      [
        'node_modules/jest/bin/jest.js',
        '--selectProjects',
        ...names,
        `--maxWorkers=${workers}`,
        '--json',
        `--outputFile=${file}`,
        ...args,
      ],
      {
        cwd: ROOT,
        env: { ...process.env, ...env, SPINDLE_TEST_SEED: String(seed) },
        stdio: ['ignore', 'ignore', 2],
      },
    );
    child.on('exit', resolve);
  });
  const files = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')).testResults : [];
  for (const name of names)
    results.push({ name, ...totalsOf(files.filter((each) => suiteOf(each.name) === name)) });
}

function totalsOf(files) {
  const tests = files.flatMap(({ assertionResults }) => assertionResults);
  const count = (...states) => tests.filter(({ status }) => states.includes(status)).length;
  // A file that breaks before its first test has none to fail.
  const broken = files.filter(
    ({ status, assertionResults }) => status === 'failed' && assertionResults.length === 0,
  ).length;
  return {
    passed: count('passed'),
    failed: count('failed') + broken + (files.length === 0 ? 1 : 0),
    skipped: count('pending', 'todo', 'skipped'),
  };
}

/** A cluster of the tests' own, thrown away after; the application's is never touched. */
async function startCluster() {
  const dataFolder = join(ROOT, 'data', 'test');
  mkdirSync(dataFolder, { recursive: true });
  const postgres = await startPostgres({ dataFolder, port: await freePort(), fast: true });
  stops.push(postgres.stop);
  return { SPINDLE_TEST_DATABASE: postgres.url, SPINDLE_TEST_APP_DATABASE: postgres.appUrl };
}

/** What these suites run. */
async function buildFor(names) {
  if (names.length === 0) return;
  await bundleIfStale();
  await ensureCheckers();
  if (names.includes('browser')) await ensureBrowser();
  // A whole server suite starts the application as well; one file of it seldom does.
  const startsPages = names.includes('browser') || (names.includes('server') && !others.length);
  if (startsPages) await buildPagesIfStale();
}

const folder = mkdtempSync(join(tmpdir(), 'spindle-test-'));
let code = 0;
try {
  await installPackages();
  const names = SUITES.filter((name) => !only || only === name);
  const build = () => buildFor(names);
  if (!only || only === 'checks') await runChecks(build);
  else await build();
  if (names.length > 0) {
    const env = names.some((name) => name !== 'core') ? await startCluster() : {};
    await runSuites(names, [...order, ...others], env);
  }
} catch (error) {
  say(error instanceof SetupError ? error.message : error.stack);
  code = 1;
} finally {
  await stopAll();
  rmSync(folder, { recursive: true, force: true });
}
const total = (key) => results.reduce((sum, result) => sum + result[key], 0);
for (const { name, passed, failed, skipped } of results)
  console.log(
    `${name}: ${passed} passed, ${failed} failed${skipped ? `, ${skipped} skipped` : ''}`,
  );
console.log(`took ${seconds()}, in the order of SPINDLE_TEST_SEED=${seed}`);
console.log(`${total('passed')} passed, ${total('failed')} failed, ${total('skipped')} skipped`);
process.exit(code || (total('failed') > 0 || total('passed') === 0 ? 1 : 0));
