/** What is registered of media, as rows: to choose among them, and as a table to save and bring back. */
import { and, asc, count, eq, gt, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import { NOT_ACQUIRED } from '@/core/description/acquisition';
import { ELEMENTS, type ElementName } from '@/core/description/elements';
import { cellOfValues } from '@/core/description/values-in-cell';
import type { Database, Executor } from '@/server/platform/db/database';
import { wordsOf } from '@/server/platform/db/words';
import { tableDownload } from '@/server/platform/http/table-download';
import { descriptions } from '../descriptions/tables';
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
  'machine',
  'shelf',
  'blank',
  ...ELEMENTS,
  'acquired_from',
  'acquired_on',
  'acquired_how',
  'acquired_notes',
] as const);

/** What is said of the medium itself. */
function cellsOfDescription(said: typeof descriptions.$inferSelect | null) {
  const { from, on, how, notes } = said?.acquisition ?? NOT_ACQUIRED;
  const values = ELEMENTS.map((element) => [element, cellOfValues(said?.elements[element] ?? [])]);
  return {
    ...(Object.fromEntries(values) as Record<ElementName, string>),
    acquired_from: from,
    acquired_on: on,
    acquired_how: how === 'not-said' ? '' : how,
    acquired_notes: notes,
  };
}

async function* factRows(db: Executor, condition: SQL | undefined) {
  let last = 0;
  for (;;) {
    const rows = await db
      .select({ medium: media, said: descriptions })
      .from(media)
      .leftJoin(descriptions, eq(descriptions.mediumId, media.id))
      .where(and(condition, gt(media.id, last)))
      .orderBy(asc(media.id))
      .limit(ROWS_A_READ);
    for (const { medium: row, said } of rows)
      yield {
        ...cellsOfDescription(said),
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
        machine: row.machine,
        shelf: row.shelf,
        blank: row.isBlank,
      };
    if (rows.length < ROWS_A_READ) return;
    last = rows.at(-1)!.medium.id;
  }
}

export const factTable = (db: Database, question: FactsQuestion, asJson: boolean): Response =>
  tableDownload('media', FACT_COLUMNS, factRows(db, meant(question)), asJson);
