/** Files in whose text the words stand, each with a passage around them. */
import { asc, eq, sql, type SQL } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { files, fileTexts, volumes } from '../copies/tables';
import { holdings } from './tables';

const TEXTS_SORTED = 120;

/** One stretch of a text around what was asked for, without marks. */
const EXCERPT = 'MaxWords=16, MinWords=8, MaxFragments=1, StartSel="", StopSel=""';

export function filesSaying(
  db: Executor,
  words: readonly string[],
  { fits, isNarrowed, limit }: { fits: SQL; isNarrowed: boolean; limit: number },
) {
  const asked = sql`plainto_tsquery('simple', ${words.join(' ')})`;
  const answering = db
    .select({ sha256: fileTexts.sha256 })
    .from(fileTexts)
    .where(sql`${fileTexts.words} @@ ${asked}`);
  // A word that nearly every text has is not sorted through for the few that are listed; where
  // media are chosen, those of them must be found.
  const some = (isNarrowed ? answering : answering.limit(TEXTS_SORTED)).as('some');
  const met = db
    .select({
      id: files.id,
      path: files.path,
      code: holdings.code,
      sha256: files.sha256,
      position: files.position,
    })
    .from(some)
    .innerJoin(files, eq(files.sha256, some.sha256))
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .innerJoin(holdings, eq(holdings.copyId, volumes.fairCopyId))
    .where(sql`${fits} and ${volumes.view} is null`)
    .orderBy(asc(holdings.code), asc(files.position))
    .limit(limit)
    .as('met');
  // The passage is looked for in those alone that are listed: it costs far more than to find them.
  return db
    .select({
      id: met.id,
      path: met.path,
      code: met.code,
      excerpt: sql<string>`ts_headline('simple', left(${fileTexts.body}, 65536), ${asked}, ${EXCERPT})`,
    })
    .from(met)
    .innerJoin(fileTexts, eq(fileTexts.sha256, met.sha256))
    .orderBy(asc(met.code), asc(met.position));
}
