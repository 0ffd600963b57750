// A house of its own with one large disc, for figures: its processes, what it is asked, how long that
// takes beside a baseline, and how much memory all of it has.
import {
  closeSync,
  mkdirSync,
  openSync,
  readdirSync,
  readFileSync,
  readSync,
  rmSync,
} from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { build } from 'esbuild';
import { buildPagesIfStale, bundleIfStale, ROOT, run } from './prepare.mjs';
import { startPostgres } from './postgres.mjs';
import { freePort, startProcess, waitForPages } from './processes.mjs';

const BYTES = Number(process.env.SPINDLE_BENCH_BYTES ?? 4_700_000_000);
const PART = 128 << 20;

export const timed = async (work) => {
  const start = performance.now();
  const result = await work();
  return { seconds: (performance.now() - start) / 1000, result };
};

export async function until(look) {
  for (;;) {
    const found = await look();
    if (found) return found;
    await sleep(200);
  }
}

async function discIn(folder) {
  await build({
    absWorkingDir: ROOT,
    entryPoints: ['bench/large-disc.ts'],
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    outfile: join(ROOT, 'build', 'large-disc.js'),
    logLevel: 'error',
  });
  const { writeLargeDisc } = await import(join(ROOT, 'build', 'large-disc.js'));
  const path = join(folder, 'disc.iso');
  return { path, ...writeLargeDisc(path, BYTES) };
}

/** Resident memory of processes and all that they started, in MB. */
function memoryOf(watched) {
  const parents = new Map();
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    try {
      const text = readFileSync(`/proc/${pid}/status`, 'utf8');
      parents.set(Number(pid), {
        parent: Number(/PPid:\s+(\d+)/.exec(text)?.[1]),
        kb: Number(/VmRSS:\s+(\d+)/.exec(text)?.[1] ?? 0),
      });
    } catch {
      // It ended meanwhile.
    }
  }
  const ours = (pid) => {
    for (let at = pid; at > 1; at = parents.get(at)?.parent ?? 0)
      if (watched.some((each) => each.pid === at)) return true;
    return false;
  };
  return [...parents].reduce((sum, [pid, { kb }]) => sum + (ours(pid) ? kb : 0), 0) / 1024;
}

/** Rows of a table, each with the time and the memory of some work beside a baseline. */
class Figures {
  rows = [];
  #watched;
  #peak = 0;
  #looking;

  constructor(watched) {
    this.#watched = watched;
    this.#looking = setInterval(() => this.#look(), 250);
  }

  #look() {
    this.#peak = Math.max(this.#peak, memoryOf(this.#watched));
  }

  async row(what, most, baseline, work) {
    this.#peak = memoryOf(this.#watched);
    const { seconds, result } = await timed(work);
    this.rows.push({
      what,
      seconds: seconds.toFixed(1),
      beside: baseline ? baseline.toFixed(1) : '',
      ratio: baseline ? (seconds / baseline).toFixed(2) : '',
      'at most': most ?? '',
      'memory, MB': Math.round(this.#peak),
    });
    console.error(this.rows.at(-1));
    return result;
  }

  stop() {
    clearInterval(this.#looking);
  }
}

const headers = { cookie: 'spindle-operator=Bench', 'content-type': 'application/json' };

/** What a client asks of the pages. */
class Client {
  constructor(url) {
    this.url = url;
    this.headers = headers;
  }

  async ask(path, body) {
    const response = await fetch(
      this.url + path,
      body ? { method: 'POST', headers, body: JSON.stringify(body) } : { headers },
    );
    if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
    return response.json();
  }

  /** Sends a disc in parts and waits until it is taken in; gives its code. */
  async takeIn({ path, bytes }) {
    const tus = { ...headers, 'tus-resumable': '1.0.0' };
    const made = await fetch(`${this.url}/api/uploads`, {
      method: 'POST',
      headers: {
        ...tus,
        'upload-length': String(bytes),
        'upload-metadata': `filename ${Buffer.from('large.iso').toString('base64')}`,
      },
    });
    const upload = made.headers.get('location');
    const { seconds } = await timed(() => this.#send(upload, path, bytes, tus));
    console.error(`sent and stored in ${seconds.toFixed(1)} s`);
    const done = await until(async () => {
      const state = await this.ask(upload);
      if (state.state === 'refused') throw new Error(state.now);
      return state.state === 'done' && state;
    });
    return done.code;
  }

  async #send(upload, path, bytes, tus) {
    const part = Buffer.alloc(PART);
    const file = openSync(path, 'r');
    for (let at = 0; at < bytes;) {
      const length = readSync(file, part, 0, PART, at);
      const response = await fetch(this.url + upload, {
        method: 'PATCH',
        headers: {
          ...tus,
          'content-type': 'application/offset+octet-stream',
          'upload-offset': String(at),
        },
        body: part.subarray(0, length),
      });
      if (response.status !== 204) throw new Error(await response.text());
      at = Number(response.headers.get('upload-offset'));
    }
    closeSync(file);
  }
}

/**
 * Makes the disc, then runs a house until `work` is done.
 * @param {string} name of the folder that all of it lies in, which goes afterwards
 * @param {{ before: (made: object) => Promise<unknown>, env?: (folder: string) => object }} options
 *   `before` is given the disc before anything else runs: for baselines
 * @param {(house: object) => Promise<void>} work
 */
export async function withLargeHouse(name, { before, env: more = () => ({}) }, work) {
  await bundleIfStale();
  await buildPagesIfStale();
  const folder = join(ROOT, 'data', name);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'shelf'), { recursive: true });
  const stops = [];
  const watched = [];
  const figures = new Figures(watched);
  try {
    const disc = await discIn(folder);
    const baselines = await before(disc, folder);
    const postgres = await startPostgres({ dataFolder: folder, port: await freePort() });
    stops.push(postgres.stop);
    const [port, bench] = [await freePort(), await freePort()];
    const env = {
      DATABASE_URL: postgres.appUrl,
      SPINDLE_BENCH: `127.0.0.1:${bench}`,
      SPINDLE_SHELF: join(folder, 'shelf'),
      NODE_ENV: 'production',
      NEXT_TELEMETRY_DISABLED: '1',
      ...more(folder),
    };
    const asOwner = { ...process.env, ...env, DATABASE_URL: postgres.url };
    await run(process.execPath, ['build/migrate.js'], { env: asOwner });
    const start = (what, args, other = {}) => {
      const child = startProcess(what, args, { env: { ...env, ...other } });
      watched.push(child);
      stops.push(child.stop);
      return child;
    };
    start('bench', [
      'build/standin.js',
      `--shelf=${env.SPINDLE_SHELF}`,
      '--speed=0',
      `--port=${bench}`,
    ]);
    const next = 'node_modules/next/dist/bin/next';
    start('pages', [next, 'start', '-H', '127.0.0.1', '-p', String(port)]);
    const client = new Client(`http://127.0.0.1:${port}`);
    await waitForPages(client.url, 60);
    await client.ask('/api/operators', { name: 'Bench' }).catch(() => undefined);
    await run(process.execPath, ['build/demo.js', 'stations'], { env: { ...process.env, ...env } });
    await work({ disc, folder, client, figures, start, baselines });
  } finally {
    figures.stop();
    for (const stop of stops.reverse()) await stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
