/** What is registered of media, as rows: to choose among them, and as a table to save and bring back. */
import { and, asc, count, gt, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { wordsOf } from '@/server/platform/db/words';
import { tableDownload } from '@/server/platform/http/table-download';
import { answersWord } from './arrivals';
import { isInUse } from './in-use';
import { media } from './tables';

/** What the route takes. */
export const FactsQuestion = z.object({
  q: z
    .string()
    .transform((text) => text.slice(0, 200))
    .default(''),
});
type FactsQuestion = z.output<typeof FactsQuestion>;

/** As many as are corrected at once. */
const AT_ONCE = 2000;
const ROWS_A_READ = 1000;

/** As Arrivals are asked. */
const meant = ({ q }: FactsQuestion): SQL | undefined =>
  and(isInUse, sql`not ${media.isReference}`, ...wordsOf(q).map(answersWord));

export async function listFacts(db: Executor, question: FactsQuestion) {
  const condition = meant(question);
  const [total] = await db.select({ media: count() }).from(media).where(condition);
  const rows = await db
    .select({
      code: media.code,
      title: media.title,
      lender: media.lender,
      lot: media.lot,
      setName: media.setName,
    })
    .from(media)
    .where(condition)
    .orderBy(asc(media.code))
    .limit(AT_ONCE);
  return { total: total!.media, media: rows };
}

/** Columns of the table; `new_code` is there to be filled in. */
const FACT_COLUMNS = Object.freeze([
  'code',
  'new_code',
  'form',
  'title',
  'sticker',
  'lender',
  'lot',
  'set',
  'place',
  'condition',
  'marks',
  'treat_first',
  'write_protected',
  'recorded_side',
  'blank',
] as const);

async function* factRows(db: Executor, condition: SQL | undefined) {
  let last = 0;
  for (;;) {
    const rows = await db
      .select()
      .from(media)
      .where(and(condition, gt(media.id, last)))
      .orderBy(asc(media.id))
      .limit(ROWS_A_READ);
    for (const row of rows)
      yield {
        code: row.code,
        new_code: null,
        form: row.form,
        title: row.title,
        sticker: row.labelText,
        lender: row.lender,
        lot: row.lot,
        set: row.setName,
        place: row.setNumber,
        condition: row.condition,
        marks: row.marks.join(', '),
        treat_first: row.treatFirst,
        write_protected: row.writeProtected,
        recorded_side: row.recordedSide,
        blank: row.isBlank,
      };
    if (rows.length < ROWS_A_READ) return;
    last = rows.at(-1)!.id;
  }
}

export const factTable = (db: Database, question: FactsQuestion, asJson: boolean): Response =>
  tableDownload('media', FACT_COLUMNS, factRows(db, meant(question)), asJson);
