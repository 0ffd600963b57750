/**
 * What is alike among everything kept: whole disks with the same image, and disks that share files.
 */
import { sql } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import type { DuplicateMatch } from '@/server/states';

const MOST = 200;
/** Of the tracks that can be compared, the share that makes two disks the same but for a few. */
const MOSTLY = 0.6;
/** Tracks compared before anything is said of a disk that is being read. */
const TRACKS_TO_SAY = 3;

/** Of `ma` and `mb`: nobody said yet what they are to one another. */
const UNSETTLED = sql`not exists (select 1 from relations r where (r.medium_id = ma.id
      and r.other_id = mb.id) or (r.medium_id = mb.id and r.other_id = ma.id))`;

interface SameImage {
  sha256: string;
  bytes: number;
  media: { code: string; title: string; copyOf: string | null }[];
}
/** Two disks with most of their tracks the same, and some not. */
interface NearlySame {
  a: string;
  b: string;
  aTitle: string;
  bTitle: string;
  same: number;
  of: number;
}
interface SharedFiles {
  a: string;
  b: string;
  aTitle: string;
  bTitle: string;
  shared: number;
  ofA: number;
  ofB: number;
  examples: string[];
}

export async function listAlike(
  db: Executor,
): Promise<{ images: SameImage[]; nearly: NearlySame[]; pairs: SharedFiles[] }> {
  const [images, pairs, nearly] = await Promise.all([
    sameImages(db),
    sharedFiles(db),
    nearlySame(db),
  ]);
  return { images, pairs, nearly };
}

/** An interface as a row: the driver asks for an index. */
type Row<T> = { [K in keyof T]: T[K] };

async function sameImages(db: Executor): Promise<SameImage[]> {
  const { rows } = await db.execute<Row<Omit<SameImage, 'bytes'>> & { bytes: string }>(sql`
    with twice as (select sha256 from holdings h join media m on m.id = h.medium_id
      where not m.is_blank group by 1 having count(*) > 1 order by count(*) desc, 1 limit ${MOST})
    select sha256, min(c.image_bytes) as bytes, json_agg(json_build_object('code', m.code,
      'title', m.title, 'copyOf', (select o.code from relations r join media o on o.id = r.other_id
        where r.medium_id = m.id and r.kind = 'copy-of' order by o.code limit 1))
      order by m.code) as media
    from twice join holdings h using (sha256) join media m on m.id = h.medium_id
      join fair_copies c on c.id = h.copy_id
    where not m.is_blank group by sha256 order by count(*) desc, 1`);
  return rows.map((row) => ({ ...row, bytes: Number(row.bytes) }));
}

async function sharedFiles(db: Executor): Promise<SharedFiles[]> {
  const { rows } = await db.execute<Row<SharedFiles>>(sql`
    select ma.code as a, mb.code as b, ma.title as "aTitle", mb.title as "bTitle",
      l.files as shared, l.of_medium as "ofA", l.of_other as "ofB", l.examples
    from likenesses l join media ma on ma.id = l.medium_id join media mb on mb.id = l.other_id
    where l.file_share > 0 and ${UNSETTLED}
    order by l.file_share desc, l.files desc, 1, 2 limit ${MOST}`);
  return rows;
}

async function nearlySame(db: Executor): Promise<NearlySame[]> {
  const { rows } = await db.execute<Row<NearlySame>>(sql`
    select ma.code as a, mb.code as b, ma.title as "aTitle", mb.title as "bTitle",
      l.tracks as same, l.of_tracks as of
    from likenesses l join media ma on ma.id = l.medium_id join media mb on mb.id = l.other_id
    where l.track_share > 0 and ${UNSETTLED}
    order by l.track_share desc, 1, 2 limit ${MOST}`);
  return rows;
}

/**
 * The medium in the holdings that a disk is like as far as it is read; null where it is like none.
 */
export async function likenessOf(
  db: Executor,
  { sittingId, mediumId, stepping }: { sittingId: number; mediumId: number; stepping: number },
): Promise<DuplicateMatch | null> {
  const { rows } = await db.execute<{ code: string; same: number; of: number }>(sql`
    with read as (select cylinder / ${stepping} as cylinder, head, digest from tracks
      where sitting_id = ${sittingId}
      and digest is not null and cylinder % ${stepping} = 0),
    met as (select distinct f.medium_id from read join track_digests t using (cylinder, head,
      digest) join fair_copies f on f.id = t.fair_copy_id where f.medium_id <> ${mediumId}
      limit ${MOST}),
    copies as (select distinct on (f.medium_id) f.id, f.medium_id from fair_copies f join met
      on met.medium_id = f.medium_id order by f.medium_id, f.id desc)
    select m.code, count(*) filter (where t.digest = read.digest)::int as same,
      count(*)::int as of
    from copies c join track_digests t on t.fair_copy_id = c.id join read using (cylinder, head)
      join media m on m.id = c.medium_id where not m.is_blank and m.withdrawn_at is null
      and not exists (select 1 from relations r where r.kind = 'not-the-same'
      and ((r.medium_id = m.id and r.other_id = ${mediumId})
      or (r.medium_id = ${mediumId}
      and r.other_id = m.id)))
    group by m.code order by count(*) filter (where t.digest = read.digest) desc, m.code limit 1`);
  const [best] = rows;
  return best && best.same >= TRACKS_TO_SAY && best.same >= MOSTLY * best.of
    ? { code: best.code, same: best.same, of: best.of }
    : null;
}
