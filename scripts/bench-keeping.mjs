// Measures what is kept for good with a disc of 4.7 GB: a parcel of it beside `tar` and `sha256sum`,
// its second store beside `cp` and `sha512sum`, and its image read as a folder beside `cat`, with the
// memory of our processes.
import { execFile, execFileSync } from 'node:child_process';
import { existsSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import { timed, until, withLargeHouse } from './lib/large-house.mjs';
import { freePort, waitForPort } from './lib/processes.mjs';

/** What is being worked at is let alone for so long before it is written a second time. */
const QUIET_MS = 16_000;

async function baselinesOf({ path }) {
  const packed = await timed(() => execFileSync('tar', ['cf', `${path}.tar`, path]));
  const digested = await timed(() => execFileSync('sha256sum', [`${path}.tar`]));
  rmSync(`${path}.tar`);
  const copied = await timed(() => {
    execFileSync('cp', [path, `${path}.copy`]);
    execFileSync('sync', [`${path}.copy`]);
  });
  const strong = await timed(() => execFileSync('sha512sum', [`${path}.copy`]));
  rmSync(`${path}.copy`);
  const read = await timed(() => execFileSync('sh', ['-c', 'cat "$0" | cat > /dev/null', path]));
  return {
    tar: packed.seconds + digested.seconds,
    cp: copied.seconds + strong.seconds,
    cat: read.seconds,
  };
}

/** By a client that costs nothing itself; gives the bytes that came. */
async function fetchAll({ headers }, address) {
  const { stdout } = await promisify(execFile)('curl', [
    ...['-s', '-o', '/dev/null', '-w', '%{size_download}'],
    ...['-H', `cookie: ${headers.cookie}`, address],
  ]);
  return Number(stdout);
}

const storeIn = (folder) => join(folder, 'second');
const isIdle = (folder) =>
  existsSync(join(storeIn(folder), 'on-its-way')) &&
  readdirSync(join(storeIn(folder), 'on-its-way')).length === 0;

await withLargeHouse('bench-keeping', { before: baselinesOf }, async (house) => {
  const { disc, folder, client, figures, start, baselines } = house;
  const worker = start('worker', ['build/worker.js']);
  const code = await client.takeIn(disc);
  const { id } = await client.ask('/api/parcels', {
    ...{ title: 'A large disc', recipient: 'a bench', of: { codes: [code] } },
  });
  const sent = await figures.row('a parcel, sent', 2, baselines.tar, () =>
    fetchAll(client, `${client.url}/api/parcels/${id}`),
  );
  if (sent < disc.bytes) throw new Error(`only ${sent} bytes came`);
  const port = await freePort();
  start('folders', ['build/folders.js'], { SPINDLE_FOLDERS_PORT: String(port) });
  await client.ask('/api/folders', { of: { code }, isOpen: true });
  await waitForPort(port, 30);
  const opened = `http://127.0.0.1:${port}/${code}/`;
  // Listed first, as every program does.
  await fetchAll(client, opened);
  const read = await figures.row('read as a folder, beside cat', 2, baselines.cat, () =>
    fetchAll(client, `${opened}${code}.iso`),
  );
  if (read < disc.bytes) throw new Error(`only ${read} bytes were read`);
  await worker.stop();
  await sleep(QUIET_MS);
  const more = { SPINDLE_SECOND_STORE: storeIn(folder) };
  await figures.row('written into a second store, and read back', 2.5, baselines.cp, async () => {
    start('worker', ['build/worker.js'], more);
    await until(() => {
      const size = existsSync(join(storeIn(folder), 'ocfl'))
        ? Number(
            execFileSync('du', ['-sb', join(storeIn(folder), 'ocfl')], { encoding: 'utf8' }).split(
              '\t',
            )[0],
          )
        : 0;
      return size > disc.bytes && isIdle(folder);
    });
  });
  console.log(
    `${disc.bytes.toLocaleString('en')} bytes; tar and sha256sum ${baselines.tar.toFixed(1)} s, ` +
      `cp and sha512sum ${baselines.cp.toFixed(1)} s; memory of all our processes together`,
  );
  console.table(figures.rows);
});
