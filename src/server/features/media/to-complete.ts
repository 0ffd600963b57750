/** What is still to be completed, across everything kept and waiting: counted and paged in SQL. */
import { and, asc, eq, gt, inArray, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import { MEDIUM_FORMS, isFloppy } from '@/core/medium-form';
import type { Executor } from '@/server/platform/db/database';
import { isInUse } from './in-use';
import { isRead } from './is-read';
import { incompleteSets } from './sets';
import { attachments, media } from './tables';

const AT_ONCE = 200;

const isNamed = sql`${media.title} !~* '^(not known|unknown|untitled|[?])'`;
const isPictured = sql`exists (select 1 from ${attachments} a where a.medium_id = ${media.id})`;

/** What a record may lack, in the order in which it is told, with when it does. */
const LACKS = {
  'what it is': sql`not (${isNamed})`,
  owner: sql`${media.lender} = ''`,
  label: sql`${media.labelText} = ''`,
  condition: sql`(${media.condition} = '' and ${media.marks} = '[]')`,
  photo: sql`not ${isPictured}`,
  // What is read in blocks has no sides of that kind.
  side: and(
    eq(media.recordedSide, 'not-said'),
    inArray(media.form, MEDIUM_FORMS.filter(isFloppy)),
  )!,
} satisfies Record<string, SQL>;
type Lack = keyof typeof LACKS;
const KINDS = Object.keys(LACKS) as [Lack, ...Lack[]];

const isAny = sql`(${sql.join(Object.values(LACKS), sql` or `)})`;
const isOriginal = sql`(${isInUse} and not ${media.isBlank} and not ${media.isReference})`;

/** What the route takes. */
export const ToCompleteQuestion = z.object({
  /** Only those that lack this. */
  only: z.enum(KINDS).optional(),
  /** Those behind this code. */
  after: z.string().max(60).optional(),
});

export async function listToComplete(db: Executor, asked: z.input<typeof ToCompleteQuestion>) {
  const { only, after } = ToCompleteQuestion.parse(asked);
  const lacking = KINDS.map((kind) => sql`case when ${LACKS[kind]} then ${kind}::text end`);
  const rows = await db
    .select({
      code: media.code,
      title: media.title,
      form: media.form,
      lot: media.lot,
      held: isRead,
      toComplete: sql<Lack[]>`array_remove(array[${sql.join(lacking, sql`, `)}], null)`,
    })
    .from(media)
    .where(and(isOriginal, only ? LACKS[only] : isAny, after ? gt(media.code, after) : undefined))
    .orderBy(asc(media.code))
    .limit(AT_ONCE);
  const counted = (which: SQL) => sql<number>`(count(*) filter (where ${which}))::int`;
  const [counts] = await db
    .select({
      of: sql<number>`count(*)::int`,
      total: counted(isAny),
      ...(Object.fromEntries(KINDS.map((kind) => [kind, counted(LACKS[kind])])) as Record<
        Lack,
        SQL<number>
      >),
    })
    .from(media)
    .where(isOriginal);
  const { of, total, ...byKind } = counts!;
  return {
    media: rows,
    /** Where to go on, where there are more. */
    next: rows.length === AT_ONCE ? rows.at(-1)!.code : null,
    of,
    total,
    counts: byKind as Record<Lack, number>,
    sets: after ? [] : await incompleteSets(db),
  };
}
