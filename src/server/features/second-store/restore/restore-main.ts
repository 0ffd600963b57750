/**
 * `npm run restore`, once the database runs: brings an empty one to the migrations that the store is
 * of, restores it, and brings it to those of today.
 */
import { copyFile, mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import { config } from '@/server/platform/config';
import { connectDatabase, type Database } from '@/server/platform/db/database';
import { applyMigrations } from '@/server/platform/db/migrate';
import { journalIn, MIGRATIONS_FILE, StoredMigrations } from '../stored-migrations';
import { Restoring } from './restore-store';
import { objectsIn, type StoredObject } from './stored-objects-in';

const say = (text: string) => process.stdout.write(`${text}\n`);

class NotRestored extends Error {}

/** Our migrations up to one of them, in a folder of their own. */
async function migrationsTo(newest: number, to: string): Promise<string> {
  const ours = config().SPINDLE_MIGRATIONS;
  const journal = await journalIn(ours);
  const entries = journal.entries.slice(0, newest + 1);
  await mkdir(join(to, 'meta'), { recursive: true });
  await writeFile(join(to, 'meta/_journal.json'), JSON.stringify({ ...journal, entries }));
  for (const { tag } of entries) await copyFile(join(ours, `${tag}.sql`), join(to, `${tag}.sql`));
  return to;
}

async function migrateTo(newest: number): Promise<void> {
  const temporary = await mkdtemp(join(tmpdir(), 'restore-'));
  try {
    await applyMigrations(await migrationsTo(newest, temporary));
  } finally {
    await rm(temporary, { recursive: true });
  }
}

/** Which of our migrations was the newest when an object was written. */
async function migrationOf(object: StoredObject): Promise<number> {
  const { entries } = await journalIn(config().SPINDLE_MIGRATIONS);
  const { newest } = StoredMigrations.parse(JSON.parse((await object.text(MIGRATIONS_FILE)) ?? ''));
  const at = entries.findIndex(({ tag }) => tag === newest);
  if (at < 0)
    throw new NotRestored('The store is of a newer version of Frail Spindle: take that one.');
  return at;
}

/** Those that can be restored, by their migrations, the house first among its like. */
async function byMigrations(
  objects: readonly StoredObject[],
): Promise<Map<number, StoredObject[]>> {
  const groups = new Map<number, StoredObject[]>();
  for (const object of objects) {
    const at = await migrationOf(object);
    const group = groups.get(at) ?? [];
    groups.set(at, object.isHouse ? [object, ...group] : [...group, object]);
  }
  return new Map([...groups].sort(([a], [b]) => a - b));
}

async function withDatabase<T>(work: (db: Database) => Promise<T>): Promise<T> {
  const { db, close } = connectDatabase(undefined, { statementSeconds: 0 });
  return work(db).finally(close);
}

/** Refuses a database that holds a house; takes away what a restoring left that broke off. */
async function prepareDatabase(db: Database): Promise<void> {
  const { rows } = await db.execute<{ is: boolean }>(
    sql`select to_regclass('public.houses') is not null as is`,
  );
  if (!rows[0]!.is) return;
  const { rows: houses } = await db.execute(sql`select 1 from houses`);
  const { rows: media } = await db.execute(sql`select 1 from media limit 1`);
  if (houses.length > 0 && media.length > 0)
    throw new NotRestored('There are media in this database already: nothing was restored.');
  for (const schema of ['public', 'drizzle', 'pgboss'])
    await db.execute(sql`drop schema if exists ${sql.identifier(schema)} cascade`);
  await db.execute(sql`create schema public`);
}

async function restoreFrom(folder: string) {
  const { objects, unreadable } = await objectsIn(folder);
  const house = objects.find(({ isHouse }) => isHouse);
  if (!house) throw new NotRestored(`There is no house in ${folder}: nothing was restored.`);
  const sound: StoredObject[] = [];
  for (const object of objects) {
    const damaged = await object.damagedRows();
    if (damaged.length === 0) sound.push(object);
    else unreadable.push(`${object.inventory.id}: ${damaged.join(', ')}`);
  }
  if (!sound.includes(house))
    throw new NotRestored(`What is of no medium is damaged: ${unreadable.join('; ')}.`);
  const groups = await byMigrations(sound);
  await withDatabase(prepareDatabase);
  const restoring = new Restoring();
  for (const [migration, group] of groups) {
    await migrateTo(migration);
    await withDatabase((db) => restoring.take(db, group));
    say(`  ${restoring.restored.objects} of ${objects.length} objects`);
  }
  await applyMigrations(config().SPINDLE_MIGRATIONS);
  const orphans = await withDatabase((db) => restoring.end(db, house));
  return { ...restoring.restored, orphans, unreadable };
}

const [folder] = process.argv.slice(2);
if (!folder)
  throw new NotRestored('Say which folder the second store is: npm run restore -- FOLDER');
const began = Date.now();
try {
  const { objects, rows, blobs, bytes, lost, orphans, unreadable } = await restoreFrom(folder);
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
