/** The sounds of everything kept in one list: searched, narrowed, and where each is held again. */
import { and, asc, count, countDistinct, eq, gte, lte, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import type { Executor } from '@/server/platform/db/database';
import { like, wordsOf } from '@/server/platform/db/words';
import { files } from '../copies/tables';
import { holdings } from '../holdings/tables';
import { media } from '../media/tables';
import { toldSample } from './queries';
import { MOST_RATE, sounds } from './tables';

/** Of seconds; no machine of the time held more. */
const MOST_SECONDS = 100_000;
const seconds = z.coerce.number().min(0).max(MOST_SECONDS).optional();

/** What the route takes. */
export const SoundsQuestion = z.object({
  q: z
    .string()
    .transform((text) => text.slice(0, 200))
    .default(''),
  atLeast: seconds,
  atMost: seconds,
  rate: z.coerce.number().int().min(1).max(MOST_RATE).optional(),
  root: z.coerce.number().int().min(0).max(127).optional(),
  /** Those that are held more than once. */
  twice: z.literal('yes').optional(),
  /** Those whose frames have this digest. */
  pcm: z
    .string()
    .regex(/^[0-9a-f]{64}$/)
    .optional(),
  more: z.coerce.number().int().min(0).max(100).default(0),
});
export type SoundsQuestion = z.output<typeof SoundsQuestion>;

const AT_ONCE = 200;
/** Rates that a list may be narrowed to. */
const MOST_RATES = 40;
/** Copies of one sound are counted so far. */
const MOST_COUNTED = 99;

/** Each word stands in what a sound is called, or in what is said of its medium. */
const answersTo = (q: string): SQL[] =>
  wordsOf(q).map(
    (word) =>
      sql`(${sounds.described} like ${like(word)} or ${holdings.described} like ${like(word)})`,
  );

/** The same frames, on this medium or on others, by their newest copies. */
const twins = sql`${sounds} twin join ${holdings} theirs on theirs.copy_id = twin.fair_copy_id
  where twin.pcm_sha256 = ${sounds.pcmSha256}`;

const heldTimes = sql<number>`(select count(*)::int from (
  select 1 from ${twins} limit ${MOST_COUNTED + 1}) counted)`;

export function meant({
  q,
  atLeast,
  atMost,
  rate,
  root,
  twice,
  pcm,
}: SoundsQuestion): SQL | undefined {
  return and(
    ...answersTo(q),
    atLeast === undefined ? undefined : gte(sounds.seconds, atLeast),
    atMost === undefined ? undefined : lte(sounds.seconds, atMost),
    rate === undefined ? undefined : eq(sounds.rateHz, rate),
    root === undefined ? undefined : eq(sounds.rootNote, root),
    twice && sql`exists (select 1 from ${twins} and twin.id <> ${sounds.id})`,
    pcm === undefined ? undefined : eq(sounds.pcmSha256, pcm),
  );
}

/** Of the newest copy of each medium. */
export async function heldSounds(db: Executor, question: SoundsQuestion) {
  const condition = meant(question);
  const [total] = await db
    .select({ sounds: count(), media: countDistinct(holdings.mediumId) })
    .from(sounds)
    .innerJoin(holdings, eq(holdings.copyId, sounds.fairCopyId))
    .where(condition);
  const limit = AT_ONCE * (question.more + 1);
  const rows = await db
    .select({
      id: sounds.id,
      code: holdings.code,
      title: media.title,
      copyId: sounds.fairCopyId,
      folder: sounds.folder,
      name: sounds.name,
      seconds: sounds.seconds,
      rateHz: sounds.rateHz,
      rootNote: sounds.rootNote,
      isLooped: sounds.isLooped,
      listed: sounds.listed,
      path: files.path,
      file: sounds.fileId,
      doubts: files.doubts,
      pcmSha256: sounds.pcmSha256,
      held: heldTimes,
    })
    .from(sounds)
    .innerJoin(holdings, eq(holdings.copyId, sounds.fairCopyId))
    .innerJoin(media, eq(media.id, holdings.mediumId))
    .innerJoin(files, eq(files.id, sounds.fileId))
    .where(condition)
    .orderBy(asc(holdings.code), asc(sounds.id))
    .limit(limit);
  const rates = await db
    .select({ rateHz: sounds.rateHz, sounds: count() })
    .from(sounds)
    .innerJoin(holdings, eq(holdings.copyId, sounds.fairCopyId))
    .groupBy(sounds.rateHz)
    .orderBy(sounds.rateHz)
    .limit(MOST_RATES);
  return {
    total: total!,
    rates,
    isAll: rows.length >= total!.sounds,
    rows: rows.map(({ listed, doubts, ...row }) => ({
      ...row,
      /** Null of a file that is a sound itself. */
      sample: listed && toldSample(listed, { id: row.file, doubts }),
    })),
  };
}
