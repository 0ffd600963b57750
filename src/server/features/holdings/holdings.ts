/**
 * The search over everything kept: labels, lenders, names and texts of files, digests; narrowed by
 * facets that say how many each would leave.
 */
import { asc, eq, ilike, inArray, sql, type SQL } from 'drizzle-orm';
import { z } from 'zod';
import type { Executor } from '@/server/platform/db/database';
import { findings } from '../signatures/tables';
import { fairCopies, fileTexts, files, volumes } from '../copies/tables';
import { relations } from './tables';
import { media } from '../media/tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';

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
const TEXTS_SORTED = 120;
/** Values listed of one facet. */
const MAX_VALUES = 40;

const like = (word: string) => `%${word.replace(/[\\%_]/g, '\\$&')}%`;

/** The newest copies, those alone whose labels answer to every word. */
async function copiesNamed(db: Executor, words: readonly string[]) {
  const latest = db
    .select({ id: sql<number>`max(${fairCopies.id})` })
    .from(fairCopies)
    .groupBy(fairCopies.mediumId);
  const described = sql`concat_ws(' ', ${media.code}, ${media.title}, ${media.labelText}, ${media.lender}, ${media.lot}, ${media.setName}, ${fairCopies.sourceName}, ${fairCopies.imageSha256}, (select string_agg(v.label, ' ')
      from ${volumes} v
      where v.fair_copy_id = ${fairCopies.id}))`;
  return db
    .select({
      id: fairCopies.id,
      named:
        words.length === 0
          ? sql<boolean>`true`
          : sql<boolean>`${sql.join(
              words.map((word) => ilike(described, like(word))),
              sql` and `,
            )}`,
      code: media.code,
      title: media.title,
      labelText: media.labelText,
      lender: media.lender,
      lot: media.lot,
      form: media.form,
      layout: fairCopies.layout,
      sha256: fairCopies.imageSha256,
      bytes: fairCopies.imageBytes,
      tally: fairCopies.tally,
      // A partitioned image holds several volumes, and is one medium all the same.
      volumes: sql<
        { id: number; filesystem: string; label: string | null }[]
      >`coalesce((select json_agg(json_build_object('id',
      v.id, 'filesystem', v.filesystem, 'label', v.label) order by v."offset", v.id) from ${volumes} v
      where v.fair_copy_id = ${fairCopies.id}
      and v.view is null), '[]')`,
      fileCount: sql<number>`coalesce((select sum(v.file_count)::int from ${volumes} v
      where v.fair_copy_id = ${fairCopies.id}
      and v.view is null), 0)`,
      findings: sql<number>`(select count(*)::int from ${findings} where ${findings.fairCopyId} = ${fairCopies.id})`,
      sameAs: sql<
        string[]
      >`array(select distinct m.code from ${fairCopies} f join ${media} m on m.id = f.medium_id
      where f.image_sha256 = ${fairCopies.imageSha256}
      and f.medium_id <> ${fairCopies.mediumId}
      order by 1)`,
      copyOf: sql<
        string | null
      >`(select m.code from ${relations} r join ${media} m on m.id = r.other_id
      where r.medium_id = ${media.id}
      and r.kind = 'copy-of' order by m.code limit 1)`,
    })
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(inArray(fairCopies.id, latest))
    .orderBy(asc(media.code));
}
type CopyRow = Awaited<ReturnType<typeof copiesNamed>>[number];

/** What a copy counts under; several where it is several things. */
function valuesOf({
  form,
  volumes: own,
  layout,
  lender,
  lot,
  tally,
  findings: found,
  sameAs,
  copyOf,
}: CopyRow): Record<Facet, string[]> {
  const doubt = (tally?.doubtful ?? 0) + (tally?.lost ?? 0) + (tally?.unread ?? 0);
  return {
    form: [form],
    filesystem:
      own.length > 0 ? [...new Set(own.map(({ filesystem }) => filesystem))] : ['none found'],
    layout: [layout ?? 'not known'],
    lender: [lender || 'not known'],
    lot: [lot || 'none'],
    state: [
      tally ? (doubt > 0 ? 'in doubt' : 'sound') : 'flat image',
      ...(found > 0 ? ['in quarantine'] : []),
      ...(sameAs.length > 0 ? ['held twice'] : []),
      ...(copyOf ? ['a copy'] : []),
    ],
  };
}

function facetsOf(
  rows: readonly { values: Record<Facet, string[]> }[],
  question: Omit<HoldingsQuestion, 'more'>,
): Record<Facet, { value: string; count: number }[]> {
  const fits = (values: Record<Facet, string[]>, but: Facet) =>
    FACETS.every(
      (facet) =>
        facet === but || question[facet] === undefined || values[facet].includes(question[facet]!),
    );
  return Object.fromEntries(
    FACETS.map((facet) => {
      const counts = new Map<string, number>();
      for (const { values } of rows)
        if (fits(values, facet))
          for (const value of values[facet]) counts.set(value, (counts.get(value) ?? 0) + 1);
      return [
        facet,
        [...counts]
          .map(([value, count]) => ({ value, count }))
          .sort((a, b) => b.count - a.count || a.value.localeCompare(b.value))
          .slice(0, MAX_VALUES),
      ];
    }),
  ) as Record<Facet, { value: string; count: number }[]>;
}

const isOneOf = (ids: readonly number[]): SQL =>
  sql`${fairCopies.id} = any(${sql.param(ids)}::int[])`;

/** Files whose paths hold every word, or whose digest begins with it. */
const named = (words: readonly string[]): SQL =>
  sql.join(
    words.map((word) =>
      /^[0-9a-f]{6,64}$/.test(word)
        ? sql`(${files.pathFolded} like ${like(word)} or ${files.sha256} between ${word} and ${`${word}g`})`
        : sql`${files.pathFolded} like ${like(word)}`,
    ),
    sql` and `,
  );

/** How many files of each volume are meant: without a join, for there may be very many. */
async function countNamed(db: Executor, words: readonly string[]): Promise<Map<number, number>> {
  const rows = await db
    .select({ volumeId: files.volumeId, count: sql<number>`count(*)::int` })
    .from(files)
    .where(sql`${files.kind} = 'file' and ${named(words)}`)
    .groupBy(files.volumeId);
  return new Map(rows.map(({ volumeId, count }) => [volumeId, count]));
}

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
      and ${named(words)}`,
    )
    .orderBy(asc(media.code), asc(volumes.id), asc(files.position))
    .limit(limit);
}

function filesSaying(
  db: Executor,
  words: readonly string[],
  within: SQL,
  narrowed: boolean,
  limit: number,
) {
  const asked = sql`plainto_tsquery('simple', ${words.join(' ')})`;
  const said = db
    .select({ sha256: fileTexts.sha256 })
    .from(fileTexts)
    .where(sql`${fileTexts.words} @@ ${asked}`);
  // A word that nearly every text has is not sorted through for the few that are listed; where
  // media are chosen, those of them must be found.
  const some = (narrowed ? said : said.limit(TEXTS_SORTED)).as('some');
  const met = db
    .select({
      id: files.id,
      path: files.path,
      code: media.code,
      sha256: files.sha256,
      position: files.position,
    })
    .from(some)
    .innerJoin(files, eq(files.sha256, some.sha256))
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(sql`${within} and ${volumes.view} is null`)
    .orderBy(asc(media.code), asc(files.position))
    .limit(limit)
    .as('met');
  // The passage is looked for in those alone that are listed: it costs far more than to find them.
  return db
    .select({
      id: met.id,
      path: met.path,
      code: met.code,
      excerpt: sql<string>`ts_headline('simple', left(${fileTexts.body}, 65536), ${asked}, 'MaxWords=16, MinWords=8, MaxFragments=1, StartSel="", StopSel=""')`,
    })
    .from(met)
    .innerJoin(fileTexts, eq(fileTexts.sha256, met.sha256))
    .orderBy(asc(met.code), asc(met.position));
}

export async function searchHoldings(db: Executor, question: z.input<typeof HoldingsQuestion>) {
  const { more, ...asked } = HoldingsQuestion.parse(question);
  const words = sanitizeText(asked.q).trim().toLowerCase().split(/\s+/).filter(Boolean);
  const [all, counts] = await Promise.all([
    copiesNamed(db, words),
    words.length === 0 ? new Map<number, number>() : countNamed(db, words),
  ]);
  const rows = all.map((row) => ({
    row,
    values: valuesOf(row),
    files: row.volumes.reduce((sum, { id }) => sum + (counts.get(id) ?? 0), 0),
  }));
  const fits = rows.filter(({ values }) =>
    FACETS.every((facet) => asked[facet] === undefined || values[facet].includes(asked[facet]!)),
  );
  const copies = fits.filter(({ row, files: count }) => row.named || count > 0);
  const shown = (1 + more) * AT_ONCE;
  // Only of the first media that together hold as many files as are listed.
  const listed: number[] = [];
  for (let i = 0, left = shown; i < copies.length && left > 0; i++) {
    const { row, files: count } = copies[i]!;
    listed.push(...row.volumes.filter(({ id }) => counts.has(id)).map(({ id }) => id));
    left -= count;
  }
  const [found, texts] = await Promise.all([
    listed.length > 0 ? filesNamed(db, words, listed, shown) : [],
    words.length > 0
      ? filesSaying(
          db,
          words,
          isOneOf(fits.map(({ row }) => row.id)),
          fits.length < rows.length,
          Math.min(MAX_TEXTS, shown),
        )
      : [],
  ]);
  return {
    total: copies.length,
    copies: copies.slice(0, shown).map(({ row: { named: _named, ...row } }) => row),
    copyIds: copies.map(({ row }) => row.id),
    facets: facetsOf(
      rows.filter(({ row, files: count }) => row.named || count > 0),
      asked,
    ),
    found,
    filesFound: copies.reduce((sum, { files: count }) => sum + count, 0),
    texts,
  };
}
