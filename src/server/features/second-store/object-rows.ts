/** Rows of the database as lines of JSON, a file a table: what a restored house begins with. */
import { sql } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import type { DraftVersion } from './draft-version';
import { GROWING, ROWS_OF_HOUSE, ROWS_OF_MEDIUM } from './row-owners';

/** Rows fetched at a time. */
const AT_ONCE = 500;
/** Numbers of one stretch of a table that only grows. */
const STRETCH = 5000;

const encoder = new TextEncoder();

/** Rows of a table that a condition is true of. */
interface RowsOf {
  table: string;
  condition: string;
}

/** As lines, in one order. */
async function* linesOf(tx: Executor, { table, condition }: RowsOf): AsyncGenerator<Uint8Array> {
  await tx.execute(
    sql.raw(
      `declare rows_of_object no scroll cursor for select to_jsonb(t)::text as line
       from "${table}" t where ${condition} order by 1`,
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

async function addTable(
  tx: Executor,
  draft: DraftVersion,
  rows: RowsOf,
  name = rows.table,
): Promise<void> {
  const { table, condition } = rows;
  const some = await tx.execute(sql.raw(`select 1 from "${table}" where ${condition} limit 1`));
  if (some.rows.length > 0)
    await draft.add({ path: `rows/${name}.jsonl`, stream: () => linesOf(tx, rows) });
}

/** A file a stretch: one that came before is as it was, and not stored again. */
async function addStretches(
  tx: Executor,
  draft: DraftVersion,
  { table, condition }: RowsOf,
): Promise<void> {
  const { rows } = await tx.execute<{ stretch: number }>(
    sql.raw(`select distinct (id / ${STRETCH})::int as stretch from "${table}"
      where ${condition} order by 1`),
  );
  for (const { stretch } of rows) {
    const within = `${condition} and id / ${STRETCH} = ${stretch}`;
    await addTable(tx, draft, { table, condition: within }, `${table}.${stretch}`);
  }
}

/** Within a transaction that sees one state of all tables; of what is of no medium where it is null. */
export async function addRows(
  tx: Executor,
  draft: DraftVersion,
  mediumId: number | null,
): Promise<void> {
  const isHouse = mediumId === null;
  for (const [table, of] of Object.entries(isHouse ? ROWS_OF_HOUSE : ROWS_OF_MEDIUM)) {
    const rows = { table, condition: of.replaceAll('$1', String(mediumId)) };
    if (isHouse && GROWING.includes(table)) await addStretches(tx, draft, rows);
    else await addTable(tx, draft, rows);
  }
}
