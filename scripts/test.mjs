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
const only = process.argv[2];
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

/** Runs one suite of Jest and takes its totals. */
async function suite(name, args, env = {}) {
  say(`— ${name} tests (${seconds()})`);
  const file = join(folder, `${name}.json`);
  await new Promise((resolve) => {
    const child = spawn(
      process.execPath,
      [
        'node_modules/jest/bin/jest.js',
        '--selectProjects',
        name,
        '--json',
        `--outputFile=${file}`,
        ...args,
      ],
      { cwd: ROOT, env: { ...process.env, ...env }, stdio: ['ignore', 'ignore', 2] },
    );
    child.on('exit', resolve);
  });
  if (!existsSync(file)) return results.push({ name, passed: 0, failed: 1, skipped: 0 });
  const report = JSON.parse(readFileSync(file, 'utf8'));
  const brokenFiles = report.testResults.filter(
    ({ status, assertionResults }) => status === 'failed' && assertionResults.length === 0,
  ).length;
  results.push({
    name,
    passed: report.numPassedTests,
    failed: report.numFailedTests + brokenFiles,
    skipped: report.numPendingTests,
  });
}

const folder = mkdtempSync(join(tmpdir(), 'spindle-test-'));
let code = 0;
try {
  await installPackages();
  if (!only || only === 'checks') {
    await check('formatting', process.execPath, [
      'node_modules/prettier/bin/prettier.cjs',
      '--check',
      '--log-level=warn',
      '.',
    ]);
    await check('lint', process.execPath, [
      'node_modules/eslint/bin/eslint.js',
      '--max-warnings=0',
      '.',
    ]);
    await check('arrows between folders', process.execPath, [
      'node_modules/dependency-cruiser/bin/dependency-cruise.mjs',
      '--config',
      '.dependency-cruiser.cjs',
      'src',
      'demo',
    ]);
    await check('nothing unused', process.execPath, ['node_modules/knip/bin/knip.js']);
    await check('every test in a suite', process.execPath, ['scripts/check-suites.mjs']);
    await check('types', process.execPath, ['node_modules/typescript/bin/tsc', '-p', '.']);
  }
  await bundleIfStale();
  if (!only || only === 'core') {
    await ensureCheckers();
    await suite('core', ['--maxWorkers=2', ...(only ? process.argv.slice(3) : [])]);
  }
  if (!only || only === 'server' || only === 'browser') {
    // A cluster of the tests' own, thrown away after; the application's is never touched.
    const dataFolder = join(ROOT, 'data', 'test');
    mkdirSync(dataFolder, { recursive: true });
    const postgres = await startPostgres({ dataFolder, port: await freePort(), fast: true });
    stops.push(postgres.stop);
    const env = { SPINDLE_TEST_DATABASE: postgres.url };
    if (!only || only === 'server')
      await suite('server', ['--maxWorkers=2', ...(only ? process.argv.slice(3) : [])], env);
    if (!only || only === 'browser') {
      await ensureBrowser();
      await buildPagesIfStale();
      await suite('browser', ['--maxWorkers=2', ...process.argv.slice(3)], env);
    }
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
console.log(`took ${seconds()}`);
console.log(`${total('passed')} passed, ${total('failed')} failed, ${total('skipped')} skipped`);
process.exit(code || (total('failed') > 0 || total('passed') === 0 ? 1 : 0));
