/**
 * The real application for tests: a database of its own in the running cluster, the real bench,
 * worker and pages as processes.
 */
import { randomBytes, randomInt } from 'node:crypto';
import { mkdtempSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { spawn, type ChildProcess } from 'node:child_process';
import { connect, createServer } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';
import pg from 'pg';
import type { BenchAddress } from '@/benchlink/client';

const ROOT = join(__dirname, '..', '..');

export interface Program {
  readonly pid: number;
  /** Kills without a chance to put anything down. */
  kill(): Promise<void>;
  restart(): Promise<void>;
}

/** Ports that the system gives to connections going out begin here. */
const FIRST_EPHEMERAL = 32_768;
const FIRST_PORT = 10_240;

/**
 * A port that nobody listens at, and that no connection going out is given before it is used: one
 * of the ephemeral ones may be taken by a client in the meantime.
 */
export async function freePort(): Promise<number> {
  for (;;) {
    const port = randomInt(FIRST_PORT, FIRST_EPHEMERAL);
    const isFree = await new Promise<boolean>((resolve) => {
      const server = createServer()
        .once('error', () => resolve(false))
        .listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
    });
    if (isFree) return port;
  }
}

/**
 * How long is rested between two looks, in milliseconds: more from look to look, for a look costs
 * what the application needs: looked at every 50 ms, about half of what the process of one server
 * suite computed was the looking.
 */
const FIRST_REST_MS = 30;
const LONGEST_REST_MS = 400;
const GROWTH = 1.3;

/** Tries until it gives something other than null or false; `what` may tell what was seen last. */
export async function until<T>(
  what: string | (() => string),
  look: () => Promise<T | null | false> | T | null | false,
  seconds = 300,
): Promise<T> {
  const deadline = Date.now() + seconds * 1000;
  for (let rest = FIRST_REST_MS; ; rest = Math.min(rest * GROWTH, LONGEST_REST_MS)) {
    const found = await look();
    if (found !== null && found !== false) return found;
    if (Date.now() > deadline) {
      const missed = typeof what === 'string' ? what : what();
      throw new Error(`waited ${seconds} s in vain for ${missed}`);
    }
    await sleep(rest);
  }
}

export class Application {
  private readonly children = new Set<ChildProcess>();
  readonly folder = mkdtempSync(join(tmpdir(), 'spindle-app-'));
  private readonly benchToken = randomBytes(9).toString('base64url');
  log = '';

  private constructor(
    readonly databaseUrl: string,
    readonly benchPort: number,
    readonly webPort: number,
    private readonly database: string,
  ) {}

  /** A fresh database with its schema, and a shelf; nothing runs yet. */
  /** With the sample media in it; `isEmpty` leaves them out. */
  static async prepare({ isEmpty = false } = {}): Promise<Application> {
    const client = await clusterClient();
    try {
      const template = isEmpty ? null : await filledDatabase(client);
      const application = await Application.on(`test_${randomBytes(6).toString('hex')}`);
      const { database } = application;
      await client.query(`create database ${database} ${template ? `template ${template}` : ''}`);
      process.env.DATABASE_URL = application.databaseUrl;
      process.env.SPINDLE_BENCH = `127.0.0.1:${application.benchPort}`;
      process.env.SPINDLE_BENCH_TOKEN = application.bench.token;
      if (isEmpty) await application.migrate();
      await application.once(['build/demo.js', 'shelf']);
      return application;
    } finally {
      await client.end();
    }
  }

  private static async on(database: string): Promise<Application> {
    return new Application(
      inDatabase(clusterUrl('SPINDLE_TEST_APP_DATABASE'), database),
      await freePort(),
      await freePort(),
      database,
    );
  }

  /** Makes the database that the others begin as: the same for every suite, and made once. */
  static async makeFilled(client: pg.Client, database: string): Promise<void> {
    const making = `${database}_making`;
    await client.query(`drop database if exists ${making} with (force)`);
    await client.query(`create database ${making}`);
    const application = await Application.on(making);
    try {
      await application.migrate();
      await application.once(['build/demo.js', 'shelf']);
      await application.startBench();
      await application.once(['build/demo.js', 'fill']);
    } finally {
      await application.end();
    }
    await client.query(`alter database ${making} rename to ${database}`);
  }

  /** Its database for who may do everything: the application's own role may not. */
  get ownerUrl(): string {
    return inDatabase(clusterUrl('SPINDLE_TEST_DATABASE'), this.database);
  }

  private migrate(): Promise<void> {
    return this.once(['build/migrate.js'], { DATABASE_URL: this.ownerUrl });
  }

  /** Where its bench is reached, and with what. */
  get bench(): BenchAddress {
    return { host: '127.0.0.1', port: this.benchPort, token: this.benchToken };
  }

  get url(): string {
    return `http://127.0.0.1:${this.webPort}`;
  }

  /**
   * `speed` 0 takes no time; 40 makes a track last some tens of milliseconds, so that a test can
   * step in.
   */
  async startBench(speed = 0): Promise<Program> {
    const program = this.start([
      'build/standin.js',
      `--shelf=${join(this.folder, 'shelf')}`,
      `--speed=${speed}`,
      `--port=${this.benchPort}`,
    ]);
    await until('the bench', () => portAnswers(this.benchPort));
    return program;
  }

  /** `language` is a file of `build/languages`, English where none is given. */
  startWorker(language?: string): Program {
    return this.start(['build/worker.js'], languageEnv(language));
  }

  startFolders(port: number): Program {
    return this.start(['build/folders.js'], { SPINDLE_FOLDERS_PORT: String(port) });
  }

  async startPages(language?: string): Promise<Program> {
    const program = this.start(
      ['node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(this.webPort)],
      { NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1', ...languageEnv(language) },
    );
    await until(
      'the pages',
      () =>
        fetch(`${this.url}/api/operators`).then(
          ({ ok }) => ok,
          () => false,
        ),
      60,
    );
    return program;
  }

  /** Asks the bench, which must be running, what stands on it. */
  syncStations(): Promise<void> {
    return this.once(['build/demo.js', 'stations']);
  }

  /** Takes a file in over the pages, as the page does, and waits for its code. */
  async takeIn(name: string, bytes: Uint8Array): Promise<string> {
    const answer = await fetch(`${this.url}/api/intake?name=${encodeURIComponent(name)}`, {
      method: 'POST',
      headers: { cookie: 'spindle-operator=Tam%20Okoro' },
      body: new Uint8Array(bytes),
    });
    const { id } = (await answer.json()) as { id: string };
    let code: string | null = null;
    await until(`${name} to be taken in`, async () => {
      const upload = await fetch(`${this.url}/api/uploads/${id}`);
      ({ code } = (await upload.json()) as { code: string | null });
      return code !== null;
    });
    return code!;
  }

  async stop(): Promise<void> {
    await this.end();
    const client = await clusterClient();
    await client.query(`drop database ${this.database} with (force)`);
    await client.end();
  }

  /** Ends its processes. */
  private async end(): Promise<void> {
    await Promise.all([...this.children].map(killed));
    rmSync(this.folder, { recursive: true, force: true });
  }

  private get env(): NodeJS.ProcessEnv {
    return {
      ...process.env,
      DATABASE_URL: this.databaseUrl,
      SPINDLE_BENCH: `127.0.0.1:${this.benchPort}`,
      SPINDLE_BENCH_TOKEN: this.bench.token,
      SPINDLE_SHELF: join(this.folder, 'shelf'),
    };
  }

  private launch(args: string[], env: Record<string, string>): ChildProcess {
    const child = spawn(process.execPath, args, {
      cwd: ROOT,
      env: { ...this.env, ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    const keep = (data: Buffer) => {
      this.log += data.toString();
    };
    child.stdout?.on('data', keep);
    child.stderr?.on('data', keep);
    this.children.add(child);
    return child;
  }

  private start(args: string[], env: Record<string, string> = {}): Program {
    let child = this.launch(args, env);
    return {
      get pid() {
        return child.pid!;
      },
      kill: () =>
        new Promise((resolve) => {
          child.on('exit', () => resolve());
          child.kill('SIGKILL');
        }),
      restart: async () => {
        child = this.launch(args, env);
      },
    };
  }

  private once(args: string[], env: Record<string, string> = {}): Promise<void> {
    const child = this.launch(args, env);
    return new Promise((resolve, reject) =>
      child.on('exit', (code) =>
        code === 0
          ? resolve()
          : reject(new Error(`${args.join(' ')} ended with ${code}:\n${this.log.slice(-2000)}`)),
      ),
    );
  }
}

function languageEnv(language?: string): Record<string, string> {
  if (!language) return {};
  const file = join(ROOT, 'build', 'languages', `${language}.cjs`);
  return { SPINDLE_MESSAGES: file, NODE_OPTIONS: `--require="${file}"` };
}

function killed(child: ChildProcess): Promise<void> {
  return new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.on('exit', () => resolve());
    child.kill('SIGKILL');
  });
}

function clusterUrl(name: 'SPINDLE_TEST_DATABASE' | 'SPINDLE_TEST_APP_DATABASE'): string {
  const url = process.env[name];
  if (!url) throw new Error('run these tests with "npm test": they need its database');
  return url;
}

const inDatabase = (url: string, database: string): string =>
  url.replace(/\/[^/]*$/, `/${database}`);

async function clusterClient(): Promise<pg.Client> {
  const client = new pg.Client({ connectionString: clusterUrl('SPINDLE_TEST_DATABASE') });
  await client.connect();
  return client;
}

/** Suites run side by side: the first one makes it, the others wait. */
const MAKING_LOCK = 4717;

/** The name of a database with the sample media, as these bundles make it. */
async function filledDatabase(client: pg.Client): Promise<string> {
  const made = Math.round(statSync(join(ROOT, 'build', '.bundled')).mtimeMs);
  const name = `filled_${made}`;
  await client.query('select pg_advisory_lock($1)', [MAKING_LOCK]);
  try {
    const { rowCount } = await client.query('select 1 from pg_database where datname = $1', [name]);
    if (rowCount === 0) await Application.makeFilled(client, name);
  } finally {
    await client.query('select pg_advisory_unlock($1)', [MAKING_LOCK]);
  }
  return name;
}

function portAnswers(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect({ host: '127.0.0.1', port });
    socket.on('connect', () => {
      socket.destroy();
      resolve(true);
    });
    socket.on('error', () => resolve(false));
  });
}
