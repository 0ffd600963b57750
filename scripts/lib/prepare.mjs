// What must be there before anything runs, with Node's own modules only: npm packages, Debian
// packages, builds.
import { execFileSync, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');
const inRoot = (...parts) => join(ROOT, ...parts);

/** A failure that is explained in one sentence; anything else is a defect and shows its stack. */
export class SetupError extends Error {}

export const say = (text) => process.stderr.write(`${text}\n`);

/** Runs a command to its end; its output goes to standard error. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd: ROOT,
      stdio: ['ignore', options.quiet ? 'pipe' : 2, options.quiet ? 'pipe' : 2],
      ...options,
    });
    let output = '';
    child.stdout?.on('data', (data) => (output += data));
    child.stderr?.on('data', (data) => (output += data));
    child.on('error', reject);
    child.on('exit', (code, signal) =>
      code === 0
        ? resolve(output)
        : reject(
            Object.assign(new Error(`${command} ended with ${code ?? signal}`), { output, code }),
          ),
    );
  });
}

const digest = (text) => createHash('sha256').update(text).digest('hex');

/** Installs the packages of the lock file where they are missing or stale. */
export async function installPackages() {
  const stamp = inRoot('node_modules', '.installed');
  const wanted = digest(readFileSync(inRoot('package-lock.json')));
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('Installing npm packages …');
  try {
    // Not `npm ci`: it refuses a lock file that lacks other systems' optional binaries, as one made
    // from a partial registry does.
    await run(
      'npm',
      ['install', '--no-save', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'],
      { quiet: true },
    );
  } catch (error) {
    const first =
      (error.output ?? error.message)
        .split('\n')
        .find((line) => /error/.test(line) && !/code/.test(line)) ?? error.message;
    throw new SetupError(
      diskFull(error) ?? `npm could not install the packages of the lock file: ${first.trim()}`,
    );
  }
  writeFileSync(stamp, wanted);
}

/** The sentence for a full disk, or null. */
export function diskFull(error) {
  return /ENOSPC|No space left/i.test(
    `${error?.message} ${error?.output ?? ''} ${error?.code ?? ''}`,
  )
    ? 'The disk is full: free some space and start again. Nothing was lost.'
    : null;
}

/** Made from English, and so never newer than that. */
const PSEUDO = inRoot('src', 'messages', 'pseudo');

function newestIn(folder) {
  let newest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (path === PSEUDO) continue;
    newest = Math.max(newest, entry.isDirectory() ? newestIn(path) : statSync(path).mtimeMs);
  }
  return newest;
}

/** When the sources of a build last changed, in milliseconds. */
function sourcesChanged() {
  const files = ['package-lock.json', 'tsconfig.json', 'next.config.ts', 'postcss.config.mjs']
    .map((name) => inRoot(name))
    .filter(existsSync);
  return Math.max(
    ...['src', 'demo', 'drizzle']
      .map((name) => inRoot(name))
      .filter(existsSync)
      .map(newestIn),
    ...files.map((path) => statSync(path).mtimeMs),
  );
}

const isStale = (stamp) => !existsSync(stamp) || statSync(stamp).mtimeMs < sourcesChanged();

/** Bundles the command line, the worker, the stand-in and the demo into `build/`. */
async function bundle() {
  const { build } = await import('esbuild');
  const entries = {
    spindle: 'src/cli/main.ts',
    worker: 'src/server/worker.ts',
    folders: 'src/server/folders.ts',
    standin: 'src/standin/main.ts',
    migrate: 'src/server/platform/db/migrate-main.ts',
    restore: 'src/server/features/second-store/restore/restore-main.ts',
    demo: 'demo/main.ts',
    'decode-thread': 'src/node/decode-thread.ts',
    'protect-thread': 'src/node/protect-thread.ts',
    'hash-thread': 'src/node/hash-thread.ts',
    'image-thread': 'src/node/image-thread.ts',
  };
  await build({
    absWorkingDir: ROOT,
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    splitting: true,
    outdir: 'build',
    logLevel: 'error',
    entryPoints: Object.fromEntries(
      Object.entries(entries).filter(([, file]) => existsSync(inRoot(file))),
    ),
    // What the commands on files use is bundled, so that they start fast; the rest stays in
    // node_modules.
    external: ['pg', 'pg-native', 'pg-boss', 'pg-copy-streams', 'drizzle-orm', 'next', 'pino'],
    banner: {
      js:
        "import { createRequire as __createRequire } from 'node:module'; const require = " +
        '__createRequire(import.meta.url);',
    },
  });
  writeFileSync(inRoot('build', '.bundled'), '');
}

/** The language that nobody speaks, made of English as it stands. */
export async function makePseudo() {
  const { writePseudo } = await import('./pseudo.mjs');
  writePseudo(inRoot('src', 'messages', 'en'), PSEUDO);
}

/** Bundles every language but English, each as a file that is loaded before anything else. */
async function bundleLanguages() {
  const { build } = await import('esbuild');
  await makePseudo();
  await build({
    absWorkingDir: ROOT,
    bundle: true,
    format: 'iife',
    target: 'es2022',
    outdir: 'build/languages',
    outExtension: { '.js': '.cjs' },
    logLevel: 'error',
    entryPoints: { pseudo: 'src/messages/pseudo/index.ts' },
  });
}

export async function bundleIfStale() {
  mkdirSync(inRoot('build'), { recursive: true });
  if (!isStale(inRoot('build', '.bundled'))) return;
  say('Bundling the worker, the stand-in and the command line …');
  await bundleLanguages();
  await bundle();
}

/** Builds the pages once when sources changed. */
export async function buildPagesIfStale() {
  const stamp = inRoot('.next', '.built');
  if (!isStale(stamp)) return;
  say('Building the pages (a minute or two) …');
  try {
    await run(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
      quiet: true,
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
    });
  } catch (error) {
    rmSync(stamp, { force: true });
    throw new SetupError(diskFull(error) ?? `The pages could not be built:\n${error.output}`);
  }
  writeFileSync(stamp, '');
}

/** The first of the paths that exists, or null. */
const firstOf = (paths) => paths.find((path) => existsSync(path)) ?? null;

function postgresFolder() {
  const base = '/usr/lib/postgresql';
  const versions = existsSync(base) ? readdirSync(base).sort((a, b) => Number(b) - Number(a)) : [];
  return firstOf(
    versions
      .map((version) => join(base, version, 'bin'))
      .filter((folder) => existsSync(join(folder, 'initdb'))),
  );
}

export const chromiumPath = () => firstOf(['/usr/bin/chromium']);
export const chromedriverPath = () => firstOf(['/usr/bin/chromedriver']);

/** Installs Debian packages; as root, or through sudo without a question. */
async function installDebian(names, why) {
  const isRoot = process.getuid?.() === 0;
  const sudo = isRoot ? [] : ['sudo', '-n'];
  const prefix = (args) => [...sudo, ...args];
  if (!existsSync('/usr/bin/apt-get'))
    throw new SetupError(
      `${why} is missing and this system has no apt-get: install ` +
        `${names.join(' and ')} by hand, then start again.`,
    );
  if (!isRoot) {
    try {
      execFileSync('sudo', ['-n', 'true'], { stdio: 'ignore' });
    } catch {
      throw new SetupError(
        `${why} is missing and can't be installed without root: run "sudo apt-get ` +
          `install ${names.join(' ')}", then start again.`,
      );
    }
  }
  say(`Installing ${names.join(', ')} from Debian …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  try {
    const [update, ...updateArgs] = prefix(['apt-get', 'update', '-q']);
    await run(update, updateArgs, { quiet: true, env });
    const [install, ...installArgs] = prefix([
      'env',
      'DEBIAN_FRONTEND=noninteractive',
      'apt-get',
      'install',
      '-y',
      '-q',
      '--no-install-recommends',
      ...names,
    ]);
    await run(install, installArgs, { quiet: true, env });
  } catch (error) {
    throw new SetupError(
      diskFull(error) ??
        `${why} could not be installed from Debian's packages: ` +
          `${(error.output ?? error.message).trim().split('\n').pop()}`,
    );
  }
}

export async function ensurePostgres() {
  if (!postgresFolder()) await installDebian(['postgresql'], 'PostgreSQL');
  const folder = postgresFolder();
  if (!folder)
    throw new SetupError(
      'PostgreSQL was installed but its programs were not found under /usr/lib/postgresql.',
    );
  return folder;
}

/** Packages and a program of each. */
const CHECKERS = [
  ['dosfstools', 'fsck.fat'],
  ['mtools', 'mcopy'],
  ['genisoimage', 'genisoimage'],
  ['udftools', 'mkudffs'],
  ['sox', 'sox'],
  ['flac', 'flac'],
];

/**
 * What makes volumes to be read, and what those and the sounds that are written are held against,
 * beside the checks of our own.
 */
export async function ensureCheckers() {
  const missing = CHECKERS.filter(
    ([, tool]) => !firstOf(['/usr/bin', '/usr/sbin', '/sbin'].map((folder) => `${folder}/${tool}`)),
  ).map(([name]) => name);
  if (missing.length > 0)
    await installDebian(missing, 'Other makers and checkers of volumes and sounds');
}

export async function ensureBrowser() {
  if (!chromiumPath() || !chromedriverPath())
    await installDebian(['chromium', 'chromium-driver'], 'Chromium for the browser tests');
}
