/**
 * Applies migrations, as the database's owner, and gives the application's role what it needs; two
 * starts at once wait for each other.
 */
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { installQueue } from '../jobs/queue';
import { connectDatabase } from './database';
import { grantToApplication } from './grants';
import { setMigrationTimes } from './migration-times';

const MIGRATION_LOCK = 7_340_117;

export async function applyMigrations(migrationsFolder: string): Promise<void> {
  const { db, pool, close } = connectDatabase(undefined, { statementSeconds: 0 });
  const client = await pool.connect();
  await client.query("set lock_timeout = '30s'");
  await client.query('select pg_advisory_lock($1)', [MIGRATION_LOCK]);
  await setMigrationTimes(client, migrationsFolder);
  await migrate(db, { migrationsFolder });
  // Chunks are packed or random already; a second compression only costs.
  await client.query('alter table blob_chunks alter column bytes set storage external');
  await installQueue();
  await grantToApplication(client);
  await client.query('select pg_advisory_unlock($1)', [MIGRATION_LOCK]);
  client.release();
  await close();
}
