/** How well media were read and what is on them, for papers that are given to others. */
import { sql } from 'drizzle-orm';
import type { Tally } from '@/core/reading/grades';
import { say } from '@/messages';
import type { Executor } from '@/server/platform/db/database';

/** What is told of the newest copy of a medium. */
export interface ReadState {
  mediumId: number;
  madeAt: Date;
  bytes: number;
  /** Null of an image that came as it is. */
  tally: Tally | null;
  /** Graded by the block, and not by the sector. */
  isBlocks: boolean;
  tracksOfSound: number;
  volumes: { filesystem: string; label: string | null; files: number }[];
  files: number;
  fileBytes: number;
  /** Files of which something is in doubt. */
  hurtFiles: number;
  /** Paths of the first ones, in the order of their volumes. */
  paths: string[];
}

interface ReadStateRow extends Omit<ReadState, 'madeAt'> {
  madeAt: string;
}

/** Of those of the media that were read, by number; so many paths of each. */
export async function readStatesOf(
  db: Executor,
  mediumIds: readonly number[],
  paths = 0,
): Promise<ReadonlyMap<number, ReadState>> {
  const { rows } = await db.execute<ReadStateRow & Record<string, unknown>>(sql`
    with newest as (select distinct on (medium_id) id, medium_id, made_at, image_bytes, tally, blocks
      from fair_copies where medium_id = any(${sql.param([...mediumIds])}::int[])
      order by medium_id, id desc),
    listed as (select v.* from volumes v join newest n on n.id = v.fair_copy_id
      where v.view is null and v.inside is null)
    select n.medium_id as "mediumId", n.made_at as "madeAt", n.image_bytes::float8 as bytes, n.tally,
      n.blocks is not null as "isBlocks",
      (select count(*)::int from jsonb_array_elements(case jsonb_typeof(n.blocks -> 'tracks')
        when 'array' then n.blocks -> 'tracks' else '[]' end) track
        where track ->> 'type' = 'AUDIO') as "tracksOfSound",
      coalesce((select jsonb_agg(jsonb_build_object('filesystem', l.filesystem, 'label', l.label,
          'files', l.file_count) order by l."offset", l.id)
        from listed l where l.fair_copy_id = n.id), '[]') as volumes,
      f.files, f."fileBytes", f."hurtFiles", f.paths
    from newest n cross join lateral (
      select count(*)::int as files, coalesce(sum(x.bytes), 0)::float8 as "fileBytes",
        (count(*) filter (where x.damaged or x.sectors_in_doubt > 0))::int as "hurtFiles",
        coalesce((array_agg(x.path order by x.volume_id, x.position))[:${paths}::int], '{}') as paths
      from files x join listed l on l.id = x.volume_id
      where l.fair_copy_id = n.id and x.kind = 'file' and not x.deleted) f`);
  return new Map(rows.map((row) => [row.mediumId, { ...row, madeAt: new Date(row.madeAt) }]));
}

/** In words; of what was not read, that. */
export function readWords(state: ReadState | undefined): string {
  if (!state) return say.sheets.notRead;
  const { tally, isBlocks } = state;
  if (!tally) return say.sheets.cameAsImage;
  const all = Object.values(tally).reduce((sum, count) => sum + count, 0);
  const { doubtful, lost, unread } = tally;
  return say.sheets.howRead({ all, isBlocks, doubtful, lost, unread });
}
