/** The one way to PostgreSQL: a pool with Drizzle over it, and transactions. */
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { config } from '../config';

export type Database = NodePgDatabase<Record<string, never>>;
/** A database or a transaction on it. */
export type Executor = Pick<
  Database,
  'select' | 'selectDistinct' | 'insert' | 'update' | 'delete' | 'execute'
>;

export interface Connection {
  db: Database;
  pool: pg.Pool;
  close(): Promise<void>;
}

export const databaseUrl = (): string => config().DATABASE_URL;

/** A database that takes no connection for so long is away; so is one whose connections are all held. */
const CONNECTING_SECONDS = 15;
/** Longer than any answer to a page takes. */
const STATEMENT_SECONDS = 60;

interface ConnectionOptions {
  /** Connections at most. */
  max?: number;
  connectingSeconds?: number;
  /** Seconds after which the server gives a statement up; 0 for never. */
  statementSeconds?: number;
}

export function connectDatabase(
  url = databaseUrl(),
  {
    max = 10,
    connectingSeconds = CONNECTING_SECONDS,
    statementSeconds = STATEMENT_SECONDS,
  }: ConnectionOptions = {},
): Connection {
  const pool = new pg.Pool({
    connectionString: url,
    max,
    connectionTimeoutMillis: connectingSeconds * 1000,
    statement_timeout: statementSeconds * 1000,
    // Questions of a page are short and many: to compile one takes longer than to answer it.
    options: '-c jit=off',
    // Nor does anybody hold rows locked who went away in the middle.
    idle_in_transaction_session_timeout: statementSeconds * 10 * 1000,
  });
  // An idle connection that the server closes is replaced; it must not end the process.
  pool.on('error', () => undefined);
  // Nor must one that is closed in the middle of a transaction, where nobody but its queries would
  // hear of it: they fail, and are told.
  pool.on('connect', (client) => client.on('error', () => undefined));
  return { db: drizzle(pool, { casing: 'snake_case' }), pool, close: () => pool.end() };
}

const shared = globalThis as { spindleConnection?: Connection };

/** The web server's connection, made once (development reloads modules, not the process). */
export function sharedConnection(): Connection {
  shared.spindleConnection ??= connectDatabase();
  return shared.spindleConnection;
}
