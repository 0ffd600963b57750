// `npm run backup -- FOLDER`: all of the database in one file by PostgreSQL's own pg_dump, beside it
// its SHA-256; `npm run restore -- FILE` makes a house of it. The application may go on meanwhile.
import { createHash } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { basename, join, resolve } from 'node:path';
import { databaseForTool } from './lib/database-for-tool.mjs';
import { run, say, SetupError } from './lib/prepare.mjs';

const [folder] = process.argv.slice(2);

async function sha256Of(path) {
  const hash = createHash('sha256');
  for await (const part of createReadStream(path)) hash.update(part);
  return hash.digest('hex');
}

/** To the second, so that a later one is another file. */
const stamp = () => new Date().toISOString().slice(0, 19).replaceAll(':', '').replace('T', '-');

async function backUp() {
  if (!folder) throw new SetupError('Say where it is to lie: npm run backup -- FOLDER');
  const to = resolve(folder);
  mkdirSync(to, { recursive: true });
  const database = await databaseForTool({ mustBeThere: true });
  const file = join(to, `frail-spindle-${stamp()}.dump`);
  const part = `${file}.part`;
  try {
    await run(join(database.bin, 'pg_dump'), ['-Fc', '-f', part, '-d', database.url]);
    // What its own list can't be read of is no backup.
    await run(join(database.bin, 'pg_restore'), ['--list', part], { quiet: true });
    const digest = await sha256Of(part);
    if (existsSync(file)) throw new SetupError(`${file} is there already.`);
    renameSync(part, file);
    writeFileSync(`${file}.sha256`, `${digest}  ${basename(file)}\n`);
    say(`${file}\nSHA-256 ${digest}`);
  } finally {
    await database.stop();
  }
}

try {
  await backUp();
} catch (error) {
  say(error instanceof SetupError ? error.message : error.stack);
  process.exitCode = 1;
}
