/** Rows of the database as lines of JSON, a file a table: what a restored house begins with. */
import { sql } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import type { DraftVersion } from './draft-version';

/** Rows fetched at a time. */
const AT_ONCE = 500;

const encoder = new TextEncoder();

/** Lines of a table in one order; `owner` stands for `$1` in the condition. */
async function* linesOf(
  tx: Executor,
  table: string,
  condition: string,
  owner: number,
): AsyncGenerator<Uint8Array> {
  const wanted = condition.replaceAll('$1', String(owner));
  await tx.execute(
    sql.raw(
      `declare rows_of_object no scroll cursor for select to_jsonb(t)::text as line
       from "${table}" t where ${wanted} order by 1`,
    ),
  );
  for (;;) {
    const { rows } = await tx.execute<{ line: string }>(
      sql.raw(`fetch ${AT_ONCE} from rows_of_object`),
    );
    if (rows.length > 0) yield encoder.encode(rows.map(({ line }) => `${line}\n`).join(''));
    if (rows.length < AT_ONCE) break;
  }
  await tx.execute(sql.raw('close rows_of_object'));
}

async function isEmpty(tx: Executor, table: string, condition: string, owner: number) {
  const wanted = condition.replaceAll('$1', String(owner));
  const { rows } = await tx.execute(sql.raw(`select 1 from "${table}" where ${wanted} limit 1`));
  return rows.length === 0;
}

/** Within a transaction that sees one state of all tables. */
export async function addRows(
  tx: Executor,
  draft: DraftVersion,
  tables: Readonly<Record<string, string>>,
  owner: number,
): Promise<void> {
  for (const [table, condition] of Object.entries(tables))
    if (!(await isEmpty(tx, table, condition, owner)))
      await draft.add({
        path: `rows/${table}.jsonl`,
        stream: () => linesOf(tx, table, condition, owner),
      });
}
