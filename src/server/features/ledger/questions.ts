/** What is asked of the ledger: which of its entries are meant. */
import { and, eq, gte, inArray, isNull, lt, or, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import { isDay } from '@/core/description/day';
import { LEDGER_KINDS } from '@/server/states';
import type { Executor } from '@/server/platform/db/database';
import { like, wordsOf } from '@/server/platform/db/words';
import { findByCode } from '../media/media';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { ledger } from './tables';

const day = z.string().refine((text) => text === '' || isDay(text));
/** What the routes take; empty is not asked. */
export const LedgerQuestion = z.object({
  q: z
    .string()
    .transform((text) => text.slice(0, 200))
    .default(''),
  kind: z.union([z.literal(''), z.enum(LEDGER_KINDS)]).default(''),
  /** A name, or `-` of what the application found by itself. */
  who: z.string().max(200).default(''),
  medium: z.string().max(100).default(''),
  from: day.default(''),
  to: day.default(''),
  /** Only older ones than this. */
  before: z.coerce.number().int().min(1).optional(),
});
export type LedgerQuestion = z.output<typeof LedgerQuestion>;

/** Of the application itself, and of nobody. */
const NOBODY = '-';

const ofWho = (who: string): SQL =>
  who === NOBODY
    ? isNull(ledger.operatorId)
    : sql`${ledger.operatorId} in (select id from ${operators} where name = ${who})`;

/** Of a medium and of those that were found to be it; of one there is none of, nothing. */
async function ofMedium(db: Executor, code: string): Promise<SQL> {
  const medium = await findByCode(db, code);
  if (!medium) return sql`false`;
  const merged = db.select({ id: media.id }).from(media).where(eq(media.mergedIntoId, medium.id));
  return or(eq(ledger.mediumId, medium.id), inArray(ledger.mediumId, merged))!;
}

const startOf = (text: string, days = 0): Date => {
  const at = new Date(`${text}T00:00:00`);
  at.setDate(at.getDate() + days);
  return at;
};

/** Each word stands in what the entry says, in its code or in the name beside it. */
const saying = (words: readonly string[]): SQL => sql`exists (select 1 from ledger_words lw
  where lw.ledger_id = ${ledger.id}
    and ${and(...words.map((word) => sql`lw.words like ${like(word)}`))})`;

/** Days begin where the application runs. */
export async function meantBy(db: Executor, question: LedgerQuestion): Promise<SQL | undefined> {
  const { q, kind, who, medium, from, to, before } = question;
  const words = wordsOf(q);
  return and(
    kind === '' ? undefined : eq(ledger.kind, kind),
    who === '' ? undefined : ofWho(who),
    medium === '' ? undefined : await ofMedium(db, medium),
    from === '' ? undefined : gte(ledger.at, startOf(from)),
    to === '' ? undefined : lt(ledger.at, startOf(to, 1)),
    before === undefined ? undefined : lt(ledger.id, before),
    words.length === 0 ? undefined : saying(words),
  );
}
