// Measures a disc of 4.7 GB: taken in, listed, read back out, packed, and read by a simulated
// drive, beside `cp` and `sha256sum` of the same file, with the memory of all our processes.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  mkdirSync,
  openSync,
  closeSync,
  readSync,
  readFileSync,
  readdirSync,
  rmSync,
  writeFileSync,
  linkSync,
} from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { build } from 'esbuild';
import { ROOT, buildPagesIfStale, bundleIfStale, run } from './lib/prepare.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { freePort, startProcess, waitForPages } from './lib/processes.mjs';

const BYTES = Number(process.env.SPINDLE_BENCH_BYTES ?? 4_700_000_000);
const PART = 128 << 20;
const MOST_MB = 700;

await bundleIfStale();
await buildPagesIfStale();
const folder = join(ROOT, 'data', 'bench-large');
rmSync(folder, { recursive: true, force: true });
mkdirSync(join(folder, 'shelf'), { recursive: true });
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
const disc = join(folder, 'disc.iso');
const made = writeLargeDisc(disc, BYTES);

const timed = async (work) => {
  const start = performance.now();
  const result = await work();
  return { seconds: (performance.now() - start) / 1000, result };
};

/** Resident memory of our processes and all that they started, in MB. */
const watched = [];
function memory() {
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
let peak = 0;
const looking = setInterval(() => {
  peak = Math.max(peak, memory());
}, 250);
const rows = [];
async function row(what, most, baseline, work) {
  peak = memory();
  const { seconds, result } = await timed(work);
  rows.push({
    what,
    seconds: seconds.toFixed(1),
    beside: baseline ? baseline.toFixed(1) : '',
    ratio: baseline ? (seconds / baseline).toFixed(2) : '',
    'at most': most ?? '',
    'memory, MB': Math.round(peak),
  });
  console.error(rows.at(-1));
  return result;
}

const stops = [];
try {
  const sha256sum = await timed(() =>
    execFileSync('sha256sum', [disc], { encoding: 'utf8' }).slice(0, 64),
  );
  const copied = await timed(() => {
    execFileSync('cp', [disc, `${disc}.copy`]);
    execFileSync('sha256sum', [`${disc}.copy`]);
  });
  rmSync(`${disc}.copy`);
  const digest = sha256sum.result;

  const postgres = await startPostgres({ dataFolder: folder, port: await freePort() });
  stops.push(postgres.stop);
  const [port, bench] = [await freePort(), await freePort()];
  const env = {
    DATABASE_URL: postgres.appUrl,
    SPINDLE_BENCH: `127.0.0.1:${bench}`,
    SPINDLE_SHELF: join(folder, 'shelf'),
    NODE_ENV: 'production',
    NEXT_TELEMETRY_DISABLED: '1',
  };
  const asOwner = { ...process.env, ...env, DATABASE_URL: postgres.url };
  await run(process.execPath, ['build/migrate.js'], { env: asOwner });
  const start = (name, args) => {
    const child = startProcess(name, args, { env });
    watched.push(child);
    stops.push(child.stop);
  };
  linkSync(disc, join(folder, 'shelf', 'LRG-0001.img'));
  const blocks = made.bytes / 2048;
  writeFileSync(
    join(folder, 'shelf', 'LRG-0001.device.json'),
    JSON.stringify({
      label: 'LRG-0001',
      form: 'optical-disc',
      describes: 'a large disc',
      writeProtected: true,
      medium: { kind: 'dvd', blockBytes: 2048, blocks, layers: [blocks] },
      image: 'LRG-0001.img',
      seed: '',
      faults: {},
    }),
  );
  start('bench', [
    'build/standin.js',
    `--shelf=${env.SPINDLE_SHELF}`,
    '--speed=0',
    `--port=${bench}`,
  ]);
  start('worker', ['build/worker.js']);
  start('pages', [
    'node_modules/next/dist/bin/next',
    'start',
    '-H',
    '127.0.0.1',
    '-p',
    String(port),
  ]);
  const url = `http://127.0.0.1:${port}`;
  await waitForPages(url, 60);
  const headers = { cookie: 'spindle-operator=Bench', 'content-type': 'application/json' };
  const ask = async (path, body) => {
    const response = await fetch(
      url + path,
      body ? { method: 'POST', headers, body: JSON.stringify(body) } : { headers },
    );
    if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
    return response.json();
  };
  const until = async (look) => {
    for (;;) {
      const found = await look();
      if (found) return found;
      await sleep(200);
    }
  };
  await ask('/api/operators', { name: 'Bench' }).catch(() => undefined);
  await run(process.execPath, ['build/demo.js', 'stations'], { env: { ...process.env, ...env } });

  let upload;
  const file = openSync(disc, 'r');
  const code = await row(
    'taken in: sent, stored, hashed, listed with a digest of every file',
    3,
    copied.seconds,
    async () => {
      const made_ = await fetch(`${url}/api/uploads`, {
        method: 'POST',
        headers: {
          ...headers,
          'tus-resumable': '1.0.0',
          'upload-length': String(made.bytes),
          'upload-metadata': `filename ${Buffer.from('large.iso').toString('base64')}`,
        },
      });
      upload = made_.headers.get('location');
      const part = Buffer.alloc(PART);
      const sent = await timed(async () => {
        for (let at = 0; at < made.bytes;) {
          const length = readSync(file, part, 0, PART, at);
          const response = await fetch(url + upload, {
            method: 'PATCH',
            headers: {
              ...headers,
              'tus-resumable': '1.0.0',
              'content-type': 'application/offset+octet-stream',
              'upload-offset': String(at),
            },
            body: part.subarray(0, length),
          });
          if (response.status !== 204) throw new Error(await response.text());
          at = Number(response.headers.get('upload-offset'));
        }
      });
      console.error(`sent and stored in ${sent.seconds.toFixed(1)} s`);
      const done = await until(async () => {
        const state = await ask(upload);
        if (state.state === 'refused') throw new Error(state.now);
        return state.state === 'done' && state;
      });
      return done.code;
    },
  );
  closeSync(file);
  const docket = await ask(`/api/docket/${code}`);
  const { copy, contents } = docket;
  if (copy.imageSha256 !== digest) throw new Error('the digest is another');
  if (
    contents[0].entries.filter((entry) => entry.kind === 'file' && entry.sha256).length !==
    made.files
  )
    throw new Error('not every file was listed with its digest');

  await row('read back out', 2, sha256sum.seconds, async () => {
    const response = await fetch(`${url}/api/copies/${copy.id}/image`, { headers });
    const hash = createHash('sha256');
    for await (const part of response.body) hash.update(part);
    if (hash.digest('hex') !== digest) throw new Error('other bytes came out');
  });
  await row('docket with its contents listed', null, 0, () => ask(`/api/docket/${code}`));
  await row('packed in the background', null, 0, async () => {
    const { id } = await ask('/api/extracts', { copies: [copy.id], what: 'images', packed: true });
    return until(async () => {
      const found = (await ask('/api/extracts')).find((each) => each.id === id);
      if (found.state === 'failed') throw new Error(found.now);
      return found.state === 'done';
    });
  });
  await row(
    'read by a simulated drive that takes no time: each request committed, settled',
    null,
    copied.seconds,
    async () => {
      await ask('/api/media', { code: 'LRG-0001', form: 'optical-disc', title: 'a large disc' });
      const station = (await ask('/api/stations')).find(({ form }) => form === 'optical-disc');
      await ask(`/api/stations/${station.id}`, { action: 'place', code: 'LRG-0001' });
      const { sittingId } = await ask(`/api/stations/${station.id}`, {
        action: 'start',
        unattended: true,
      });
      const done = await until(async () => {
        const sitting = await ask(`/api/sittings/${sittingId}`);
        return sitting.state === 'done' && sitting;
      });
      const read = await ask('/api/docket/LRG-0001');
      if (read.copy.imageSha256 !== digest) throw new Error(`other bytes were read: ${done.now}`);
    },
  );
  clearInterval(looking);
  console.log(
    `${made.bytes.toLocaleString('en')} bytes, ${made.files} files; sha256sum ` +
      `${sha256sum.seconds.toFixed(1)} s, cp and sha256sum ` +
      `${copied.seconds.toFixed(1)} s; memory of all our processes together, ` +
      `PostgreSQL apart, at most ${MOST_MB} MB`,
  );
  console.table(rows);
} finally {
  clearInterval(looking);
  for (const stop of stops.reverse()) await stop();
  rmSync(folder, { recursive: true, force: true });
}
