/** Rows of a store put into tables that are empty, as they were. */
import { sql } from 'drizzle-orm';
import type { Database, Executor } from '@/server/platform/db/database';
import type { StoredObject } from './stored-objects-in';

/** Rows of one statement. */
const AT_ONCE = 500;
/** Of a table, or of a stretch of it. */
const NAME = /^rows\/([a-z_]+)(?:\.\d+)?\.jsonl$/;

/** Of each table the columns that take values. */
type Columns = ReadonlyMap<string, ReadonlySet<string>>;

export async function columnsOf(db: Executor): Promise<Columns> {
  const { rows } = await db.execute<{ table: string; column: string }>(sql`
    select table_name as "table", column_name as "column" from information_schema.columns
    where table_schema = 'public' and is_generated = 'NEVER'`);
  const columns = new Map<string, Set<string>>();
  for (const { table, column } of rows)
    columns.set(table, (columns.get(table) ?? new Set()).add(column));
  return columns;
}

async function* linesOf(object: StoredObject, content: string): AsyncGenerator<string> {
  const decoder = new TextDecoder();
  let rest = '';
  for await (const part of object.stream(content)) {
    const lines = (rest + decoder.decode(part, { stream: true })).split('\n');
    rest = lines.pop()!;
    yield* lines;
  }
  if (rest !== '') yield rest;
}

/** Nothing that hangs on rows is worked out while they come: it came with them. */
export const asTheyWere = <T>(db: Database, work: (tx: Executor) => Promise<T>): Promise<T> =>
  db.transaction(async (tx) => {
    await tx.execute(sql`set local session_replication_role = replica`);
    return work(tx);
  });

async function insertLines(
  db: Database,
  table: string,
  known: ReadonlySet<string>,
  lines: readonly string[],
): Promise<number> {
  const given = Object.keys(JSON.parse(lines[0]!) as object).filter((name) => known.has(name));
  const names = sql.join(
    given.map((name) => sql.identifier(name)),
    sql`, `,
  );
  const all = `[${lines.join(',')}]`;
  const { rowCount } = await asTheyWere(db, (tx) =>
    tx.execute(sql`insert into ${sql.identifier(table)} (${names})
      select ${names} from jsonb_populate_recordset(null::${sql.identifier(table)}, ${all}::jsonb)
      on conflict do nothing`),
  );
  return rowCount ?? 0;
}

/**
 * The tables that an object has rows of, but for those that are left out; what is there already stays
 * as it is. Answers with how many rows came.
 */
export async function restoreRows(
  db: Database,
  object: StoredObject,
  columns: Columns,
  leftOut: ReadonlySet<string>,
): Promise<number> {
  let rows = 0;
  for (const { path, content } of object.files.values()) {
    const [, table] = NAME.exec(path) ?? [];
    const known = table === undefined ? undefined : columns.get(table);
    if (!known || leftOut.has(table!)) continue;
    let lines: string[] = [];
    const put = async () => {
      if (lines.length > 0) rows += await insertLines(db, table!, known, lines);
      lines = [];
    };
    for await (const line of linesOf(object, content)) {
      lines.push(line);
      if (lines.length === AT_ONCE) await put();
    }
    await put();
  }
  return rows;
}

/** Numbers go on behind the largest that came. */
export async function setSequences(db: Database): Promise<void> {
  const { rows } = await db.execute<{ table: string; column: string; sequence: string }>(sql`
    select table_name as "table", column_name as "column",
      pg_get_serial_sequence(quote_ident(table_name), column_name) as sequence
    from information_schema.columns where table_schema = 'public'
      and pg_get_serial_sequence(quote_ident(table_name), column_name) is not null`);
  for (const { table, column, sequence } of rows)
    await db.execute(sql`select setval(${sequence}::regclass, greatest(1,
      (select coalesce(max(${sql.identifier(column)}), 1) from ${sql.identifier(table)})))`);
}

/** Uploads did not come, and bags know theirs by number. */
export async function setUploadNumbers(db: Database): Promise<void> {
  await db.execute(sql`select setval(pg_get_serial_sequence('uploads', 'number'),
    greatest(1, (select coalesce(max(upload_number), 1) from came_bags)))`);
}

/** Rows that name another which did not come, by the two tables. */
export async function orphansIn(db: Database): Promise<{ what: string; rows: number }[]> {
  const { rows } = await db.execute<Record<'table' | 'column' | 'of' | 'key', string>>(sql`
    select c.conrelid::regclass::text as "table", a.attname as "column",
      c.confrelid::regclass::text as "of", b.attname as "key"
    from pg_constraint c
      join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
      join pg_attribute b on b.attrelid = c.confrelid and b.attnum = c.confkey[1]
    where c.contype = 'f' and c.connamespace = 'public'::regnamespace`);
  const orphans: { what: string; rows: number }[] = [];
  for (const { table, column, of, key } of rows) {
    const [from, to] = [sql.raw(table), sql.raw(of)];
    const [name, other] = [sql.identifier(column), sql.identifier(key)];
    const counted = await db.execute<{ count: number }>(sql`select count(*)::int as count
      from ${from} t where t.${name} is not null
        and not exists (select 1 from ${to} o where o.${other} = t.${name})`);
    const count = counted.rows[0]!.count;
    if (count > 0) orphans.push({ what: `${table}.${column}, of ${of}`, rows: count });
  }
  return orphans;
}
