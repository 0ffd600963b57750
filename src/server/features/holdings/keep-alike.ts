/**
 * Keeps up which media share files or tracks with one: a job after each copy that is stored. Asked
 * of everything at once, it is a join of all files with themselves.
 */
import { sql } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';

/** Contents that more media than these have, such as a system's, say nothing of two of them. */
const COMMON = 20;
/** Rows looked at of one content before it is taken for common. */
const LOOKED_AT = 200;
/** Media kept beside one: those that share most with it. */
const MOST = 200;
/** Tracks the same before anything is said, and their share of those that can be compared. */
const TRACKS_TO_SAY = 3;
const MOSTLY = 0.6;

const LIVE = sql`f.kind = 'file' and f.bytes > 0 and f.sha256 is not null and not f.deleted`;

/** Others by the files that they share: contents of theirs, and paths of some on the medium. */
const byFiles = (mediumId: number) => sql`
  with own as (select f.sha256, min(f.path) as path from holdings h
      join volumes v on v.fair_copy_id = h.copy_id join files f on f.volume_id = v.id
      where h.medium_id = ${mediumId} and ${LIVE} group by 1),
    met as (select own.path, o.ids from own cross join lateral (
      select array_agg(distinct x.medium_id) as ids from (
        select h.medium_id from files f join volumes v on v.id = f.volume_id
          join holdings h on h.copy_id = v.fair_copy_id
        where f.sha256 = own.sha256 and ${LIVE} and h.medium_id <> ${mediumId}
        limit ${LOOKED_AT}) x) o
      where cardinality(o.ids) between 1 and ${COMMON}),
    others as (select other.id, count(*)::int as files,
        (array_agg(met.path order by met.path))[1:5] as examples
      from met cross join lateral unnest(met.ids) as other(id) group by 1
      order by 2 desc, 1 limit ${MOST})
  select others.*, (select count(*)::int from own) as of_own,
    (select count(distinct f.sha256)::int from volumes v join files f on f.volume_id = v.id
      where v.fair_copy_id = theirs.copy_id and ${LIVE}) as of_theirs
  from others join holdings theirs on theirs.medium_id = others.id
    join holdings mine on mine.medium_id = ${mediumId} and mine.sha256 <> theirs.sha256`;

/** Others by the tracks that are the same as the medium's. */
const byTracks = (mediumId: number) => sql`
  with own as (select t.cylinder, t.head, t.digest from holdings h
      join track_digests t on t.fair_copy_id = h.copy_id where h.medium_id = ${mediumId}),
    met as (select o.ids from own cross join lateral (
      select array_agg(x.medium_id) as ids from (
        select h.medium_id from track_digests t join holdings h on h.copy_id = t.fair_copy_id
        where t.cylinder = own.cylinder and t.head = own.head and t.digest = own.digest
          and h.medium_id <> ${mediumId} limit ${COMMON}) x) o
      where cardinality(o.ids) between 1 and ${COMMON - 1}),
    others as (select other.id, count(*)::int as tracks
      from met cross join lateral unnest(met.ids) as other(id) group by 1
      having count(*) >= ${TRACKS_TO_SAY} order by 2 desc, 1 limit ${MOST}),
    compared as (select others.*, (select count(*)::int from own join track_digests t
        on t.cylinder = own.cylinder and t.head = own.head
        where t.fair_copy_id = theirs.copy_id) as of_tracks
      from others join holdings theirs on theirs.medium_id = others.id
        join holdings mine on mine.medium_id = ${mediumId} and mine.sha256 <> theirs.sha256)
  select * from compared where tracks >= ${MOSTLY}::float8 * of_tracks`;

/** Finds anew what a medium is alike; one at a time, so that two never miss one another. */
export async function keepAlike(tx: Executor, mediumId: number): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext('likenesses'))`);
  await tx.execute(
    sql`delete from likenesses where medium_id = ${mediumId} or other_id = ${mediumId}`,
  );
  await tx.execute(sql`
    insert into likenesses (medium_id, other_id, files, of_medium, of_other, examples, tracks,
      of_tracks, file_share, track_share)
    select least(${mediumId}, id), greatest(${mediumId}, id), coalesce(f.files, 0),
      coalesce(case when id > ${mediumId} then f.of_own else f.of_theirs end, 0),
      coalesce(case when id > ${mediumId} then f.of_theirs else f.of_own end, 0),
      coalesce(f.examples, '{}'), coalesce(t.tracks, 0), coalesce(t.of_tracks, 0),
      coalesce(f.files::real / least(f.of_own, f.of_theirs), 0),
      coalesce(t.tracks::real / t.of_tracks, 0)
    from (${byFiles(mediumId)}) f full join (${byTracks(mediumId)}) t using (id)`);
}

export async function runAlike({
  commit,
  payload: { mediumId },
}: JobContext<'alike'>): Promise<JobOutcome> {
  await commit(async (tx) => {
    await keepAlike(tx, mediumId);
    await announce(tx, { kind: 'media' });
  });
  return 'done';
}
