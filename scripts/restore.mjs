// `npm run restore -- FOLDER`: makes a database in the data folder and fills it from a second store,
// or from one file that `npm run backup` made; `npm start` goes on with it.
import { existsSync, statSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { databaseForTool } from './lib/database-for-tool.mjs';
import { bundleIfStale, ROOT, run, say, SetupError } from './lib/prepare.mjs';

const [given] = process.argv.slice(2);

async function fromFile(file, { url, bin }) {
  const began = Date.now();
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query("select to_regclass('public.media') is not null as is");
  await client.end();
  if (rows[0].is) throw new SetupError('There is a house in that database: nothing was restored.');
  await run(join(bin, 'pg_restore'), ['--exit-on-error', '--no-owner', '-d', url, file]);
  say(`Restored in ${((Date.now() - began) / 1000).toFixed(1)} s.`);
}

async function restore() {
  if (!given) throw new SetupError('Say what it is restored from: npm run restore -- FOLDER');
  const from = resolve(given);
  if (!existsSync(from)) throw new SetupError(`There is nothing at ${from}.`);
  const isFile = statSync(from).isFile();
  await bundleIfStale();
  const database = await databaseForTool({ mustBeThere: false });
  try {
    if (isFile) return await fromFile(from, database);
    await run(process.execPath, ['build/restore.js', from], {
      cwd: ROOT,
      env: { ...process.env, DATABASE_URL: database.url },
    });
  } finally {
    await database.stop();
  }
}

try {
  await restore();
} catch (error) {
  say(error.message ?? String(error));
  process.exitCode = 1;
}
