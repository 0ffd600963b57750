/** The words that entries of the ledger are found by: what they say, in the language of the house. */
import { desc, sql } from 'drizzle-orm';
import type { Said } from '@/core/said';
import { tell } from '@/messages/tell';
import type { Database, Executor } from '@/server/platform/db/database';
import { ledger } from './tables';

interface Entry {
  id: number;
  what: Said;
}

/** Entries written with one statement. */
const AT_ONCE = 2000;

export async function indexEntries(tx: Executor, entries: readonly Entry[]): Promise<void> {
  if (entries.length === 0) return;
  const told = JSON.stringify(entries.map(({ id, what }) => ({ id, told: tell(what) })));
  await tx.execute(sql`
    insert into ledger_words (ledger_id, words)
    select l.id, lower(concat_ws(' ', entry.told, m.code, o.name))
    from jsonb_to_recordset(${told}::jsonb) entry (id bigint, told text)
    join ledger l on l.id = entry.id
    left join media m on m.id = l.medium_id
    left join operators o on o.id = l.operator_id
    on conflict do nothing`);
}

/**
 * Entries from before there were words, and those of a house that was restored: all that are older
 * than the oldest one with words, the newest first. Gives how many.
 */
export async function indexOlderEntries(db: Database): Promise<number> {
  for (let indexed = 0; ;) {
    const rows = await db
      .select({ id: ledger.id, what: ledger.what })
      .from(ledger)
      .where(
        sql`${ledger.id} < coalesce((select min(ledger_id) from ledger_words), 9223372036854775807)`,
      )
      .orderBy(desc(ledger.id))
      .limit(AT_ONCE);
    if (rows.length === 0) return indexed;
    await indexEntries(db, rows);
    indexed += rows.length;
  }
}
