// Measures what is kept for good with a disc of 4.7 GB: a parcel of it beside `tar` and `sha256sum`,
// and its second store beside `cp` and `sha512sum`, with the memory of our processes.
import { execFile, execFileSync } from 'node:child_process';
import { existsSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import { timed, until, withLargeHouse } from './lib/large-house.mjs';

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
  return { tar: packed.seconds + digested.seconds, cp: copied.seconds + strong.seconds };
}

/** By a client that costs nothing itself; gives the bytes that came. */
async function fetchAll(client, path) {
  const { stdout } = await promisify(execFile)('curl', [
    ...['-s', '-o', '/dev/null', '-w', '%{size_download}'],
    ...['-H', `cookie: ${client.headers.cookie}`, client.url + path],
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
    fetchAll(client, `/api/parcels/${id}`),
  );
  if (sent < disc.bytes) throw new Error(`only ${sent} bytes came`);
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
