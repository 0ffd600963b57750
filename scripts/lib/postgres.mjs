// A PostgreSQL cluster of the project's own, on loopback only, run by an unprivileged user.
import { execFileSync, spawn } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { isAlive } from './processes.mjs';
import { diskFull, ensurePostgres, run, say, SetupError } from './prepare.mjs';

const isRoot = () => process.getuid?.() === 0;
/** PostgreSQL refuses to run as root: then Debian's own user for it does. */
const asUser = (command, args) =>
  isRoot()
    ? ['setpriv', ['--reuid=postgres', '--regid=postgres', '--init-groups', command, ...args]]
    : [command, args];

function canReach(folder) {
  if (!isRoot()) return true;
  try {
    execFileSync(
      'setpriv',
      ['--reuid=postgres', '--regid=postgres', '--init-groups', 'test', '-x', folder],
      { stdio: 'ignore' },
    );
    return true;
  } catch {
    return false;
  }
}

/**
 * The cluster's folder: in the project's data folder, or under /var/lib where the database's user
 * can't come in.
 */
function clusterFolder(dataFolder) {
  mkdirSync(dataFolder, { recursive: true });
  if (canReach(dataFolder)) return join(dataFolder, 'postgres');
  const folder = join(
    '/var/lib/frail-spindle',
    createHash('sha256').update(dataFolder).digest('hex').slice(0, 12),
  );
  say(
    `${dataFolder} can't be reached by the user postgres; the database is kept in ` +
      `${folder} instead.`,
  );
  mkdirSync(folder, { recursive: true });
  return join(folder, 'postgres');
}

/** A server that an interrupted start left behind is stopped, so that there is one. */
async function stopLeftover(bin, cluster) {
  const pidFile = join(cluster, 'postmaster.pid');
  if (!existsSync(pidFile)) return;
  const pid = Number(readFileSync(pidFile, 'utf8').split('\n')[0]);
  if (!pid || !isAlive(pid)) return;
  const [command, args] = asUser(join(bin, 'pg_ctl'), [
    '-D',
    cluster,
    'stop',
    '-m',
    'fast',
    '-w',
    '-t',
    '20',
  ]);
  await run(command, args, { quiet: true, cwd: '/' }).catch(() => undefined);
}

/** A cluster of its own with one owner, who has this password. */
async function makeCluster(bin, cluster, password) {
  rmSync(cluster, { recursive: true, force: true });
  if (isRoot()) execFileSync('install', ['-d', '-o', 'postgres', '-m', '700', cluster]);
  const passwordFile = `${cluster}.first-password`;
  writeFileSync(passwordFile, password, { mode: 0o600 });
  if (isRoot()) execFileSync('chown', ['postgres', passwordFile]);
  const [command, args] = asUser(join(bin, 'initdb'), [
    '-D',
    cluster,
    '-U',
    'spindle',
    '--auth=scram-sha-256',
    `--pwfile=${passwordFile}`,
    '-E',
    'UTF8',
    '--locale=C.UTF-8',
    // A page of the database that changed on its disk is told, not handed on.
    '--data-checksums',
  ]);
  try {
    await run(command, args, { quiet: true, cwd: '/' });
  } catch (error) {
    rmSync(cluster, { recursive: true, force: true });
    throw new SetupError(
      diskFull(error) ??
        `The database could not be made in ${cluster}: ` +
          `${(error.output ?? error.message).trim().split('\n').pop()}`,
    );
  } finally {
    rmSync(passwordFile, { force: true });
  }
}

/** The role that owns the database, and the one that the application works as. */
const OWNER = { name: 'spindle', secret: 'postgres-password' };
const APP = { name: 'spindle_app', secret: 'postgres-app-password' };

/** Made once, and kept beside the data. */
function passwordOf({ secret: name }, dataFolder) {
  const secret = join(dataFolder, name);
  if (!existsSync(secret))
    writeFileSync(secret, randomBytes(18).toString('base64url'), { mode: 0o600 });
  return readFileSync(secret, 'utf8').trim();
}

/**
 * Discs come in by the gigabyte: a checkpoint each would cost half the time. The log of what was
 * written may take a sixteenth of what is free, and no more than this.
 */
const MOST_LOG_MIB = 4096;
const LEAST_LOG_MIB = 256;
function logMib(cluster) {
  const { bavail, bsize } = statfsSync(cluster);
  const share = Math.floor((bavail * bsize) / 16 / 2 ** 20);
  return Math.max(LEAST_LOG_MIB, Math.min(MOST_LOG_MIB, share));
}

const settingsOf = (cluster, port, fast) => ({
  listen_addresses: '127.0.0.1',
  unix_socket_directories: '',
  port: String(port),
  max_connections: '200',
  max_wal_size: `${logMib(cluster)}MB`,
  shared_buffers: '256MB',
  checkpoint_timeout: '15min',
  wal_init_zero: 'off',
  wal_buffers: '64MB',
  log_min_messages: 'fatal',
  ...(fast && { fsync: 'off', synchronous_commit: 'off', full_page_writes: 'off' }),
});

/** The server process: what it says last, and whether it is gone. */
function launch(bin, cluster, settings) {
  const [command, args] = asUser(join(bin, 'postgres'), [
    '-D',
    cluster,
    ...Object.entries(settings).flatMap(([key, value]) => ['-c', `${key}=${value}`]),
  ]);
  // A group of its own: Ctrl-C reaches us, and we stop it last.
  const child = spawn(command, args, {
    cwd: '/',
    stdio: ['ignore', 'ignore', 'pipe'],
    detached: true,
  });
  const server = { child, log: '', ended: false };
  child.stderr.on('data', (data) => (server.log = (server.log + data).slice(-4000)));
  child.on('exit', () => (server.ended = true));
  return server;
}

const lastLine = (text) => text.trim().split('\n').pop();

function whyEnded(log, port) {
  const full = diskFull({ message: log });
  if (full) return full;
  return /could not bind|Address already in use/.test(log)
    ? `Port ${port} for the database is taken by another program. Set SPINDLE_DB_PORT ` +
        'to a free one, or stop that program.'
    : `PostgreSQL did not start: ${lastLine(log)}`;
}

/** The role of the application, as it should be: it comes in, and is given the rest by the owner. */
async function ensureAppRole(client, password) {
  const asked = 'select 1 from pg_roles where rolname = $1';
  const { rowCount } = await client.query(asked, [APP.name]);
  await client.query(
    `${rowCount ? 'alter' : 'create'} role ${APP.name} login nosuperuser nocreatedb nocreaterole ` +
      `password ${client.escapeLiteral(password)}`,
  );
}

/** Makes the database where it is not there; fails where the server does not answer yet. */
async function ensureDatabase(url, database, appPassword) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url.replace(/\/[^/]*$/, '/postgres') });
  try {
    await client.connect();
    const asked = 'select 1 from pg_database where datname = $1';
    const { rowCount } = await client.query(asked, [database]);
    if (!rowCount) await client.query(`create database "${database}"`);
    await ensureAppRole(client, appPassword);
  } finally {
    await client.end().catch(() => undefined);
  }
}

async function waitUntilUp(server, url, { port, database, appPassword }) {
  const deadline = Date.now() + 30_000;
  for (;;) {
    if (server.ended) throw new SetupError(whyEnded(server.log, port));
    try {
      return await ensureDatabase(url, database, appPassword);
    } catch (error) {
      if (error.code === '28P01')
        throw new SetupError(
          `Port ${port} answers as another PostgreSQL. Set SPINDLE_DB_PORT to a free port.`,
        );
      if (Date.now() > deadline)
        throw new SetupError(
          `PostgreSQL did not come up within 30 s: ${lastLine(server.log) || error.message}`,
        );
      await sleep(150);
    }
  }
}

/** Backends end at once; a checkpoint is written by then, or made up for at the next start. */
const STOP_MS = 3000;

async function stopServer(server) {
  if (server.ended) return;
  server.child.kill('SIGINT');
  for (let waited = 0; !server.ended && waited < STOP_MS; waited += 50) await sleep(50);
  if (!server.ended) server.child.kill('SIGQUIT');
}

const FIRST_REST_MS = 400;
const LONGEST_REST_MS = 10_000;

/** A server that was up for this long begins anew with short rests. */
const STEADY_MS = 60_000;

/** Starts a server again whenever it ends by itself, after rests that grow. */
class KeptServer {
  #start;
  #server;
  #stopping = false;
  #rest = FIRST_REST_MS;
  #since = Date.now();

  constructor(server, start) {
    this.#start = start;
    this.#watch(server);
  }

  #watch(server) {
    this.#server = server;
    this.#since = Date.now();
    server.child.once('exit', (code, signal) => {
      if (this.#stopping) return;
      if (Date.now() - this.#since > STEADY_MS) this.#rest = FIRST_REST_MS;
      say(`[database] ended (${signal ?? code}); starting it again`);
      setTimeout(() => this.#stopping || this.#watch(this.#start()), this.#rest);
      this.#rest = Math.min(this.#rest * 2, LONGEST_REST_MS);
    });
  }

  async stop() {
    this.#stopping = true;
    await stopServer(this.#server);
  }
}

/** The owner's URL of the database that a data folder is of. */
export const addressOf = (dataFolder, port, database = 'spindle') =>
  `postgres://${OWNER.name}:${passwordOf(OWNER, dataFolder)}@127.0.0.1:${port}/${database}`;

/**
 * Starts the cluster, made first where there is none, and again whenever it ends by itself. Gives the
 * owner's URL of the database and the application's, its folder and a function that stops it.
 * @param {{ dataFolder: string, port: number, database?: string, fast?: boolean }} options `fast`
 * gives up safety for tests
 */
export async function startPostgres({ dataFolder, port, database = 'spindle', fast = false }) {
  const bin = await ensurePostgres();
  const cluster = clusterFolder(dataFolder);
  const password = passwordOf(OWNER, dataFolder);
  const appPassword = passwordOf(APP, dataFolder);
  if (!existsSync(join(cluster, 'PG_VERSION'))) await makeCluster(bin, cluster, password);
  await stopLeftover(bin, cluster);
  const start = () => launch(bin, cluster, settingsOf(cluster, port, fast));
  const server = start();
  const at = `127.0.0.1:${port}/${database}`;
  const url = addressOf(dataFolder, port, database);
  const appUrl = `postgres://${APP.name}:${appPassword}@${at}`;
  await waitUntilUp(server, url, { port, database, appPassword });
  const kept = new KeptServer(server, start);
  return { url, appUrl, cluster, stop: () => kept.stop() };
}
