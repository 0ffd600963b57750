/**
 * What the application's own role may do: read and change rows. It owns nothing, makes no tables,
 * and of the ledger it may only read and add. Given after each migration, by the owner.
 */
import type pg from 'pg';

/** Made by `scripts/lib/postgres.mjs`; who brings a database of their own may leave it out. */
const APP_ROLE = 'spindle_app';
const SCHEMAS = ['public', 'pgboss'];

const GRANTS = [
  'revoke create on schema public from public',
  ...SCHEMAS.flatMap((schema) => [
    `grant usage on schema ${schema} to ${APP_ROLE}`,
    `grant select, insert, update, delete on all tables in schema ${schema} to ${APP_ROLE}`,
    `grant usage, select on all sequences in schema ${schema} to ${APP_ROLE}`,
  ]),
  `revoke update, delete on ledger from ${APP_ROLE}`,
  `revoke insert, update, delete on ledger_seals from ${APP_ROLE}`,
  `grant execute on function seal_ledger(integer) to ${APP_ROLE}`,
];

export async function grantToApplication(client: Pick<pg.ClientBase, 'query'>): Promise<void> {
  const { rowCount } = await client.query('select 1 from pg_roles where rolname = $1', [APP_ROLE]);
  if (!rowCount) return;
  // All at once, as one query is: at no moment may the role do more than it should.
  await client.query(GRANTS.join(';\n'));
}
