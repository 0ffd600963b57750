/**
 * The search over everything kept: labels, lenders, names and texts of files, digests; narrowed by
 * facets that say how many each would leave.
 */
import { and, asc, eq, ilike, isNull, sql, type AnyColumn, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { z } from 'zod';
import type { Executor } from '@/server/platform/db/database';
import { like, wordsOf } from '@/server/platform/db/words';
import { findings } from '../signatures/tables';
import { fairCopies, files, volumes } from '../copies/tables';
import { heldAmong } from '../rights/holds';
import { filesSaying } from './files-saying';
import { holdings, relations } from './tables';
import { media } from '../media/tables';

export const FACETS = Object.freeze([
  'form',
  'filesystem',
  'layout',
  'lender',
  'lot',
  'state',
] as const);
export type Facet = (typeof FACETS)[number];

const chosen = z.string().max(300).optional();
/** What the route takes. */
export const HoldingsQuestion = z.object({
  q: z
    .string()
    .transform((text) => text.slice(0, 200))
    .default(''),
  form: chosen,
  filesystem: chosen,
  layout: chosen,
  lender: chosen,
  lot: chosen,
  state: chosen,
  more: z.coerce.number().int().min(0).max(200).default(0),
});
export type HoldingsQuestion = z.output<typeof HoldingsQuestion>;

/** Rows sent at once of media and of files, and as many more each time that more are asked for. */
const AT_ONCE = 100;
const MAX_TEXTS = 25;
/** Files by their names are counted so far and no further: beyond, it is only told that there are more. */
const MAX_FILES_COUNTED = 10_000;
/** Media whose copies are named, so that they can be taken out together. */
const MAX_IDS = 5_000;
/** Values listed of one facet. */
const MAX_VALUES = 40;

type Narrowing = Omit<HoldingsQuestion, 'more' | 'q'>;

/** What a medium counts under in each facet: one word, or several where it is several things. */
const FACET_COLUMNS: Record<Facet, { column: AnyColumn; several: boolean }> = {
  form: { column: holdings.form, several: false },
  filesystem: { column: holdings.filesystems, several: true },
  layout: { column: holdings.layout, several: false },
  lender: { column: holdings.lender, several: false },
  lot: { column: holdings.lot, several: false },
  state: { column: holdings.states, several: true },
};

/** Whether a medium fits what was chosen, but for one facet, whose own values are counted. */
function narrowedTo(chosenOf: Narrowing, but?: Facet): SQL {
  const conditions = FACETS.flatMap((facet) => {
    const value = chosenOf[facet];
    if (value === undefined || facet === but) return [];
    const { column, several } = FACET_COLUMNS[facet];
    return [several ? sql`${value} = any(${column})` : eq(column, value)];
  });
  return and(...conditions) ?? sql`true`;
}

/** How many files of a medium's listed volumes are meant. */
interface Met {
  mediumId: number;
  volumeIds: number[];
  files: number;
}

/**
 * Media with files whose paths are meant, from so many files and no more: a word that stands in
 * millions of paths is not followed to its last.
 */
async function mediaMet(
  db: Executor,
  words: readonly string[],
): Promise<{ met: Met[]; isAll: boolean }> {
  const meant = db
    .select({ volumeId: files.volumeId })
    .from(files)
    .where(sql`${files.kind} = 'file' and ${named(words)}`)
    .limit(MAX_FILES_COUNTED + 1)
    .as('meant');
  const counted = db
    .select({ volumeId: meant.volumeId, files: sql<number>`count(*)::int`.as('files') })
    .from(meant)
    .groupBy(meant.volumeId)
    .as('counted');
  const met = await db
    .select({
      mediumId: holdings.mediumId,
      volumeIds: sql<number[]>`array_agg(${volumes.id})`,
      files: sql<number>`sum(${counted.files})::int`,
    })
    .from(counted)
    .innerJoin(volumes, eq(volumes.id, counted.volumeId))
    .innerJoin(holdings, eq(holdings.copyId, volumes.fairCopyId))
    .where(isNull(volumes.view))
    .groupBy(holdings.mediumId);
  const all = met.reduce((sum, row) => sum + row.files, 0);
  return { met, isAll: all <= MAX_FILES_COUNTED };
}

/** Whether the words stand in what is said of a medium, or in the names of files on it. */
function answersTo(words: readonly string[], met: readonly Met[]): SQL {
  if (words.length === 0) return sql`true`;
  const said = alias(holdings, 'said');
  const described = words.map((word) => ilike(said.described, like(word)));
  const ids = met.map(({ mediumId }) => mediumId);
  // Beside the other the words would be looked for in every medium: the index finds them at once.
  return sql`(${holdings.mediumId} in (select ${said.mediumId} from ${holdings} as said
    where ${and(...described)}) or ${holdings.mediumId} = any(${sql.param(ids)}::int[]))`;
}

const copiesOf = (db: Executor, ids: readonly number[]) =>
  db
    .select({
      id: holdings.copyId,
      mediumId: holdings.mediumId,
      code: holdings.code,
      title: media.title,
      labelText: media.labelText,
      lender: media.lender,
      lot: media.lot,
      form: media.form,
      layout: fairCopies.layout,
      sha256: holdings.sha256,
      bytes: fairCopies.imageBytes,
      tally: fairCopies.tally,
      // A partitioned image holds several volumes, and is one medium all the same.
      volumes: holdings.volumes,
      fileCount: holdings.fileCount,
      findings: sql<number>`(select count(*)::int from ${findings}
        where ${findings.fairCopyId} = ${holdings.copyId})`,
      sameAs: sql<string[]>`array(select distinct m.code from ${fairCopies} f
        join ${media} m on m.id = f.medium_id
        where f.image_sha256 = ${holdings.sha256} and f.medium_id <> ${holdings.mediumId}
        order by 1)`,
      copyOf: sql<string | null>`(select m.code from ${relations} r
        join ${media} m on m.id = r.other_id
        where r.medium_id = ${holdings.mediumId} and r.kind = 'copy-of' order by m.code limit 1)`,
    })
    .from(holdings)
    .innerJoin(media, eq(media.id, holdings.mediumId))
    .innerJoin(fairCopies, eq(fairCopies.id, holdings.copyId))
    .where(sql`${holdings.copyId} = any(${sql.param(ids)}::int[])`)
    .orderBy(asc(holdings.code));

/** How many of the media that answer each value of a facet would leave, most first. */
function facetCounts(facet: Facet, chosenOf: Narrowing): SQL {
  const { column, several } = FACET_COLUMNS[facet];
  const value = several ? sql`unnest(${column})` : sql`${column}`;
  return sql`(select ${facet}::text as facet, valued.value, count(*)::int as count
    from (select ${value} as value from answering as holdings
      where ${narrowedTo(chosenOf, facet)}) as valued
    group by valued.value order by count(*) desc, valued.value limit ${MAX_VALUES})`;
}

/** All facets in one statement: whether a medium answers is worked out once. */
async function allFacets(db: Executor, chosenOf: Narrowing, answers: SQL) {
  const counts = sql.join(
    FACETS.map((facet) => facetCounts(facet, chosenOf)),
    sql` union all `,
  );
  const { rows } = await db.execute<{ facet: Facet; value: string; count: number }>(sql`
    with answering as materialized (select form, layout, lender, lot, filesystems, states
      from ${holdings} where ${answers}) ${counts}`);
  return Object.fromEntries(
    FACETS.map((facet) => [
      facet,
      rows.filter((row) => row.facet === facet).map(({ value, count }) => ({ value, count })),
    ]),
  ) as Record<Facet, { value: string; count: number }[]>;
}

/**
 * Files whose paths hold every word, or whose digest begins with it. Within volumes that are known
 * the index of all paths is kept out of it: a common word's list is longer than their files.
 */
const named = (words: readonly string[], { within = false } = {}): SQL => {
  const path = within ? sql`(${files.pathFolded} || '')` : sql`${files.pathFolded}`;
  return sql.join(
    words.map((word) =>
      /^[0-9a-f]{6,64}$/.test(word)
        ? sql`(${path} like ${like(word)} or ${files.sha256} between ${word} and ${`${word}g`})`
        : sql`${path} like ${like(word)}`,
    ),
    sql` and `,
  );
};

function filesNamed(
  db: Executor,
  words: readonly string[],
  volumeIds: readonly number[],
  limit: number,
) {
  return db
    .select({
      id: files.id,
      path: files.path,
      bytes: files.bytes,
      sha256: files.sha256,
      modified: files.modified,
      deleted: files.deleted,
      code: media.code,
      inside: volumes.inside,
      quarantined: sql<boolean>`exists (select 1 from ${findings} where ${findings.fairCopyId} = ${fairCopies.id})`,
    })
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(
      sql`${files.volumeId} = any(${sql.param(volumeIds)}::int[]) and ${files.kind} = 'file'
      and ${named(words, { within: true })}`,
    )
    .orderBy(asc(media.code), asc(volumes.id), asc(files.position))
    .limit(limit);
}

/** Of the files met, those on media that fit, and their volumes as far as files are listed. */
async function filesThatFit(db: Executor, met: readonly Met[], fits: SQL, limit: number) {
  if (met.length === 0) return { files: 0, volumeIds: [] };
  const byMedium = new Map(met.map((each) => [each.mediumId, each]));
  const ids = [...byMedium.keys()];
  const rows = await db
    .select({ mediumId: holdings.mediumId })
    .from(holdings)
    .where(sql`${holdings.mediumId} = any(${sql.param(ids)}::int[]) and ${fits}`)
    .orderBy(asc(holdings.code));
  const own = rows.map(({ mediumId }) => byMedium.get(mediumId)!);
  const volumeIds: number[] = [];
  for (let i = 0, left = limit; i < own.length && left > 0; i++) {
    volumeIds.push(...own[i]!.volumeIds);
    left -= own[i]!.files;
  }
  return { files: own.reduce((sum, each) => sum + each.files, 0), volumeIds };
}

export async function searchHoldings(db: Executor, question: z.input<typeof HoldingsQuestion>) {
  const { more, q, ...narrowing } = HoldingsQuestion.parse(question);
  const words = wordsOf(q);
  const { met, isAll } = words.length === 0 ? { met: [], isAll: true } : await mediaMet(db, words);
  const fits = narrowedTo(narrowing);
  const answers = answersTo(words, met);
  const where = sql`${answers} and ${fits}`;
  const shown = (1 + more) * AT_ONCE;
  const isNarrowed = FACETS.some((facet) => narrowing[facet] !== undefined);
  const [ids, facets, ofFiles, texts] = await Promise.all([
    db
      .select({
        id: holdings.copyId,
        mediumId: holdings.mediumId,
        total: sql<number>`(count(*) over ())::int`,
      })
      .from(holdings)
      .where(where)
      .orderBy(asc(holdings.code))
      .limit(MAX_IDS),
    allFacets(db, narrowing, answers),
    filesThatFit(db, met, fits, shown),
    words.length === 0
      ? []
      : filesSaying(db, words, { fits, isNarrowed, limit: Math.min(MAX_TEXTS, shown) }),
  ]);
  const found =
    ofFiles.volumeIds.length > 0 ? await filesNamed(db, words, ofFiles.volumeIds, shown) : [];
  const listed = ids.slice(0, shown).map(({ id }) => id);
  const total = ids[0]?.total ?? 0;
  // More than can be taken out at once are looked at only where they are listed.
  const mayBeTaken = total > MAX_IDS ? [] : ids;
  const lookedAt = total > MAX_IDS ? ids.slice(0, shown) : ids;
  const held = await heldAmong(
    db,
    lookedAt.map(({ mediumId }) => mediumId),
  );
  const mayLeave = ({ mediumId }: { mediumId: number }) => !held.has(mediumId);
  return {
    total,
    copies: (await copiesOf(db, listed)).map((copy) => ({
      ...copy,
      isHeld: held.has(copy.mediumId),
    })),
    /** Of all that answer and may leave, where there are not more than can be taken out at once. */
    copyIds: mayBeTaken.filter(mayLeave).map(({ id }) => id),
    /** How many of them stay in the house. */
    stays: mayBeTaken.filter((each) => !mayLeave(each)).length,
    facets,
    found,
    filesFound: Math.min(ofFiles.files, MAX_FILES_COUNTED),
    /** Fewer files were counted than there are, as there are very many. */
    moreFiles: !isAll,
    texts,
  };
}
