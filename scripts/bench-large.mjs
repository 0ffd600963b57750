// Measures a disc of 4.7 GB: taken in, listed, read back out, packed, and read by a simulated
// drive, beside `cp` and `sha256sum` of the same file, with the memory of all our processes.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { linkSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { timed, until, withLargeHouse } from './lib/large-house.mjs';

const MOST_MB = 700;

async function baselinesOf({ path }) {
  const sha256sum = await timed(() =>
    execFileSync('sha256sum', [path], { encoding: 'utf8' }).slice(0, 64),
  );
  const copied = await timed(() => {
    execFileSync('cp', [path, `${path}.copy`]);
    execFileSync('sha256sum', [`${path}.copy`]);
  });
  rmSync(`${path}.copy`);
  return { digest: sha256sum.result, sha256sum: sha256sum.seconds, copied: copied.seconds };
}

/** The same disc on the shelf of the simulated bench. */
function putOnShelf({ path, bytes }, folder) {
  linkSync(path, join(folder, 'shelf', 'LRG-0001.img'));
  const blocks = bytes / 2048;
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
}

async function readByDrive(client, digest) {
  await client.ask('/api/media', {
    ...{ code: 'LRG-0001', form: 'optical-disc', title: 'a large disc' },
  });
  const station = (await client.ask('/api/stations')).find(({ form }) => form === 'optical-disc');
  await client.ask(`/api/stations/${station.id}`, { action: 'place', code: 'LRG-0001' });
  const { sittingId } = await client.ask(`/api/stations/${station.id}`, {
    action: 'start',
    unattended: true,
  });
  const done = await until(async () => {
    const sitting = await client.ask(`/api/sittings/${sittingId}`);
    return sitting.state === 'done' && sitting;
  });
  const read = await client.ask('/api/docket/LRG-0001');
  if (read.copy.imageSha256 !== digest) throw new Error(`other bytes were read: ${done.now}`);
}

const before = (disc, folder) => {
  putOnShelf(disc, folder);
  return baselinesOf(disc);
};

await withLargeHouse('bench-large', { before }, async (house) => {
  const { disc, client, figures, baselines, start } = house;
  const { digest, sha256sum, copied } = baselines;
  start('worker', ['build/worker.js']);
  const code = await figures.row(
    'taken in: sent, stored, hashed, listed with a digest of every file',
    3,
    copied,
    () => client.takeIn(disc),
  );
  const { copy, contents } = await client.ask(`/api/docket/${code}`);
  if (copy.imageSha256 !== digest) throw new Error('the digest is another');
  if (
    contents[0].entries.filter((entry) => entry.kind === 'file' && entry.sha256).length !==
    disc.files
  )
    throw new Error('not every file was listed with its digest');

  await figures.row('read back out', 2, sha256sum, async () => {
    const response = await fetch(`${client.url}/api/copies/${copy.id}/image`, {
      headers: client.headers,
    });
    const hash = createHash('sha256');
    for await (const part of response.body) hash.update(part);
    if (hash.digest('hex') !== digest) throw new Error('other bytes came out');
  });
  await figures.row('docket with its contents listed', null, 0, () =>
    client.ask(`/api/docket/${code}`),
  );
  await figures.row('packed in the background', null, 0, async () => {
    const wanted = { copies: [copy.id], what: 'images', packed: true };
    const { id } = await client.ask('/api/extracts', wanted);
    return until(async () => {
      const found = (await client.ask('/api/extracts')).find((each) => each.id === id);
      if (found.state === 'failed') throw new Error(found.now);
      return found.state === 'done';
    });
  });
  await figures.row(
    'read by a simulated drive that takes no time: each request committed, settled',
    null,
    copied,
    () => readByDrive(client, digest),
  );
  console.log(
    `${disc.bytes.toLocaleString('en')} bytes, ${disc.files} files; sha256sum ` +
      `${sha256sum.toFixed(1)} s, cp and sha256sum ` +
      `${copied.toFixed(1)} s; memory of all our processes together, ` +
      `PostgreSQL apart, at most ${MOST_MB} MB`,
  );
  console.table(figures.rows);
});
