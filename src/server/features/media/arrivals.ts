/** Media registered and waiting, by risk or by code: so many at once, counted and narrowed in SQL. */
import type { SittingState } from '@/server/states';
import { MARK_WORDS } from '@/messages/names';
import { and, asc, desc, eq, inArray, sql, type SQL } from 'drizzle-orm';
import { codeAt } from '@/core/medium-code';
import { z } from 'zod';
import { MAX_RISK, RISK_OF } from '@/core/condition';
import { MEDIUM_FORMS } from '@/core/medium-form';
import type { Executor } from '@/server/platform/db/database';
import { like, wordsOf } from '@/server/platform/db/words';
import { sittings } from '../sittings/tables';
import { stations } from '../stations/tables';
import { nextCode } from './codes';
import { isInUse } from './in-use';
import { lots, media } from './tables';

/** Rows sent at once, and as many more each time that more are asked for. */
const AT_ONCE = 200;
const MAX_MORE = 250;

const flag = z.enum(['0', '1']).transform((text) => text === '1');
/** What the route takes. */
export const ArrivalsQuestion = z.object({
  q: z
    .string()
    .transform((text) => text.slice(0, 200))
    .default(''),
  form: z.enum(MEDIUM_FORMS).optional(),
  order: z.enum(['code', 'risk']).default('code'),
  /** Only those that lack something, and the one of this code. */
  incomplete: flag.default(false),
  keep: z.string().max(60).optional(),
  /** Only what a stack of this station may take. */
  stackOf: z.coerce.number().int().min(1).optional(),
  more: z.coerce.number().int().min(0).max(MAX_MORE).default(0),
});
export type ArrivalsQuestion = z.output<typeof ArrivalsQuestion>;

const isWaiting = sql`(${isInUse}
  and not exists (select 1 from media_out o where o.medium_id = ${media.id})
  and not exists (select 1 from fair_copies f where f.medium_id = ${media.id}))`;
const isTheirs = sql`not ${media.isBlank} and not ${media.isReference}`;
const isIncomplete = sql`(${isTheirs} and (${media.lender} = '' or ${media.labelText} = ''
  or (${media.condition} = '' and ${media.marks} = '[]')))`;

const cases = (words: Record<string, string | number>) =>
  sql.join(
    Object.entries(words).map(([mark, word]) => sql`when ${mark} then ${word}`),
    sql` `,
  );

/** As `riskOf` has it. */
const risk = sql<number>`case when ${media.treatFirst} then ${sql.raw(String(MAX_RISK))}
  else least(${sql.raw(String(MAX_RISK))}, greatest(1, (select max(case mark ${cases(RISK_OF)} end::int)
    from jsonb_array_elements_text(${media.marks}) mark))
    + (jsonb_array_length(${media.marks}) > 1)::int) end`;

/** All that is registered of a medium and that words are looked for in. */
const described = sql`concat_ws(' ', ${media.code}, ${media.title}, ${media.labelText},
  ${media.lender}, ${media.lot}, ${media.machine}, ${media.shelf}, ${media.condition},
  case when ${media.marks} <> '[]' then (select string_agg(case mark ${cases(MARK_WORDS)} end, ' ')
    from jsonb_array_elements_text(${media.marks}) mark) end)`;

/**
 * What is said of media, sets and lots is looked through once, and not for each medium: a set that is
 * hashed, where an array would be gone through for each.
 */
const saidOf = (owner: string, word: string): SQL =>
  sql`(select ${sql.raw(owner)} from descriptions
    where words like ${like(word)} and ${sql.raw(owner)} is not null)`;

/** Media of which this is registered, or said of it, of its set or of its lot. */
export const answersWord = (word: string): SQL =>
  sql`(${described} ilike ${like(word)} or ${media.id} in ${saidOf('medium_id', word)}
    or ${media.setName} in ${saidOf('set_name', word)} or ${media.lot} in ${saidOf('lot_name', word)})`;

/** Of those that wait alone: words are dear, and the planner would look for them in all media first. */
const waitingAnswers = (words: readonly string[]): SQL | undefined =>
  words.length > 0
    ? sql`case when ${isWaiting} then ${and(...words.map(answersWord))} else false end`
    : undefined;

function answersTo({ q, form, incomplete, keep, stackOf }: ArrivalsQuestion): SQL {
  const words = wordsOf(q);
  return and(
    isWaiting,
    waitingAnswers(words),
    form && eq(media.form, form),
    incomplete ? sql`(${isIncomplete} or ${media.code} = ${keep ?? ''})` : undefined,
    stackOf
      ? sql`${isTheirs} and not ${media.treatFirst}
          and (${stations.id} is null or ${stations.id} = ${stackOf})`
      : undefined,
  )!;
}

const rowsOf = (db: Executor, question: ArrivalsQuestion) =>
  db
    .select({
      id: media.id,
      code: media.code,
      form: media.form,
      title: media.title,
      labelText: media.labelText,
      lender: media.lender,
      lot: media.lot,
      condition: media.condition,
      isBlank: media.isBlank,
      isReference: media.isReference,
      recordedSide: media.recordedSide,
      setName: media.setName,
      setNumber: media.setNumber,
      marks: media.marks,
      treatFirst: media.treatFirst,
      writeProtected: media.writeProtected,
      station: stations.id,
      sittingState: sql<SittingState | null>`(select s.state from ${sittings} s
        where s.medium_id = ${media.id} order by s.id desc limit 1)`,
      total: sql<number>`(count(*) over ())::int`,
    })
    .from(media)
    .leftJoin(stations, eq(stations.mediumId, media.id))
    .where(answersTo(question))
    .orderBy(
      asc(media.isBlank),
      ...(question.order === 'risk' ? [desc(risk)] : [asc(media.isReference)]),
      asc(media.code),
    )
    .limit((1 + question.more) * AT_ONCE);

async function countsOf(db: Executor) {
  const count = (which: SQL) => sql<number>`(count(*) filter (where ${which}))::int`;
  const [counts] = await db
    .select({
      all: sql<number>`count(*)::int`,
      waiting: count(isTheirs),
      treatFirst: count(sql`${isTheirs} and ${media.treatFirst}`),
      blanks: count(sql`${media.isBlank}`),
      incomplete: count(isIncomplete),
    })
    .from(media)
    .where(isWaiting);
  return counts!;
}

export async function listArrivals(db: Executor, asked: z.input<typeof ArrivalsQuestion>) {
  const question = ArrivalsQuestion.parse(asked);
  const [rows, counts, next] = await Promise.all([
    rowsOf(db, question),
    countsOf(db),
    nextCode(db),
  ]);
  const names = [...new Set(rows.map(({ lot }) => lot))];
  return {
    media: rows.map(({ total: _total, ...row }) => row),
    ...counts,
    /** Of those that answer. */
    total: rows[0]?.total ?? 0,
    /** Those of the media listed. */
    lots: names.length === 0 ? [] : await db.select().from(lots).where(inArray(lots.name, names)),
    nextCode: codeAt(next.numbering, next.number),
  };
}
