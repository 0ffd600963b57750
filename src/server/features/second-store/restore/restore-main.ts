/**
 * `npm run restore`, once the database runs: brings an empty one to the migrations that the store is
 * of, restores it, and brings it to those of today.
 */
import { copyFile, mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { config } from '@/server/platform/config';
import { connectDatabase } from '@/server/platform/db/database';
import { applyMigrations } from '@/server/platform/db/migrate';
import { MIGRATIONS_FILE } from '../stored-migrations';
import { restoreStore, type Restored } from './restore-store';
import { objectsIn, type StoredObject } from './stored-objects-in';

interface Journal {
  entries: { tag: string }[];
}

const say = (text: string) => process.stdout.write(`${text}\n`);

class NotRestored extends Error {}

/** Our migrations up to the newest that the store is of. */
async function migrationsOf(house: StoredObject, to: string): Promise<string> {
  const ours = config().SPINDLE_MIGRATIONS;
  const journal = JSON.parse(await readFile(join(ours, 'meta/_journal.json'), 'utf8')) as Journal;
  const stored = JSON.parse((await house.text(MIGRATIONS_FILE))!) as Journal;
  const newest = stored.entries.at(-1)!.tag;
  const at = journal.entries.findIndex(({ tag }) => tag === newest);
  if (at < 0)
    throw new NotRestored('The store is of a newer version of Frail Spindle: take that one.');
  await mkdir(join(to, 'meta'), { recursive: true });
  const entries = journal.entries.slice(0, at + 1);
  await writeFile(join(to, 'meta/_journal.json'), JSON.stringify({ ...journal, entries }));
  for (const { tag } of entries) await copyFile(join(ours, `${tag}.sql`), join(to, `${tag}.sql`));
  return to;
}

async function restoreFrom(folder: string): Promise<Restored & { unreadable: string[] }> {
  const { objects, unreadable } = await objectsIn(folder);
  const house = objects.find(({ isHouse }) => isHouse);
  if (!house) throw new NotRestored(`There is no house in ${folder}: nothing was restored.`);
  const own = objects.filter(({ inventory }) => inventory.id.startsWith(house.inventory.id));
  const temporary = await mkdtemp(join(tmpdir(), 'restore-'));
  try {
    await applyMigrations(await migrationsOf(house, temporary));
  } finally {
    await rm(temporary, { recursive: true });
  }
  const { db, close } = connectDatabase(undefined, { statementSeconds: 0 });
  try {
    const { rows } = await db.execute(sql`select 1 from media limit 1`);
    if (rows.length > 0)
      throw new NotRestored('There are media in this database already: nothing was restored.');
    // What is of no medium first: the rest names it.
    const ordered = [house, ...own.filter((object) => object !== house)];
    const restored = await restoreStore(db, ordered, (done, of) => {
      if (done === of || done % 100 === 0) say(`  ${done} of ${of} objects`);
    });
    return { ...restored, unreadable };
  } finally {
    await close();
  }
}

const [folder] = process.argv.slice(2);
if (!folder)
  throw new NotRestored('Say which folder the second store is: npm run restore -- FOLDER');
const began = Date.now();
try {
  const { objects, rows, blobs, bytes, lost, orphans, unreadable } = await restoreFrom(folder);
  await applyMigrations(config().SPINDLE_MIGRATIONS);
  say(
    `Restored in ${((Date.now() - began) / 1000).toFixed(1)} s: ${objects} objects, ${rows} rows, ` +
      `${blobs} stored objects of ${bytes} bytes.`,
  );
  for (const each of lost) say(`Not as it was: ${each}`);
  for (const each of unreadable) say(`Can’t be read: ${each}`);
  for (const { what, rows: count } of orphans) say(`${count} rows without what they name: ${what}`);
  process.exitCode = lost.length + unreadable.length + orphans.length > 0 ? 2 : 0;
} catch (error) {
  if (!(error instanceof NotRestored)) throw error;
  say(error.message);
  process.exitCode = 1;
}
