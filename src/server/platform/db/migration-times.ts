/**
 * The migrator applies what is younger than the youngest that a database has, by the times in
 * `drizzle/meta/_journal.json`. Five migrations once carried times that lay days ahead: databases that
 * had them would never have had another. Every one that was applied gets the time of the journal,
 * in which each now is younger than the one before (`tests/server/migration.test.ts`).
 */
import { readMigrationFiles } from 'drizzle-orm/migrator';
import type pg from 'pg';

export async function setMigrationTimes(client: pg.PoolClient, folder: string): Promise<void> {
  const { rows } = await client.query<{ is_there: boolean }>(
    "select to_regclass('drizzle.__drizzle_migrations') is not null as is_there",
  );
  if (!rows[0]!.is_there) return;
  for (const { hash, folderMillis } of readMigrationFiles({ migrationsFolder: folder }))
    await client.query(
      `update drizzle.__drizzle_migrations set created_at = $2
       where hash = $1 and created_at <> $2`,
      [hash, folderMillis],
    );
}
