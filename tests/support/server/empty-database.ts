/** A migrated database with nothing in it: another house. */
import { execFileSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import pg from 'pg';
import { connectDatabase, type Connection } from '@/server/platform/db/database';

const ROOT = join(__dirname, '..', '..', '..');
const base = process.env.SPINDLE_TEST_DATABASE!;

async function inServer(statement: string): Promise<void> {
  const client = new pg.Client({ connectionString: base });
  await client.connect();
  await client.query(statement).finally(() => client.end());
}

export interface EmptyDatabase {
  url: string;
  connection: Connection;
  drop(): Promise<void>;
}

/** Without any table where it is not to be migrated. */
export async function emptyDatabase({ migrated = true } = {}): Promise<EmptyDatabase> {
  const name = `test_empty_${randomBytes(6).toString('hex')}`;
  const url = base.replace(/\/[^/]*$/, `/${name}`);
  await inServer(`create database ${name}`);
  if (migrated)
    execFileSync(process.execPath, ['build/migrate.js'], {
      cwd: ROOT,
      env: { ...process.env, DATABASE_URL: url },
    });
  const connection = connectDatabase(url, { max: 4 });
  return {
    url,
    connection,
    async drop() {
      await connection.close();
      await inServer(`drop database if exists ${name} with (force)`);
    },
  };
}
