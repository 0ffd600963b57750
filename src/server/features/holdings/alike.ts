/**
 * What is alike among everything kept: whole disks with the same image, and disks that share files.
 */
import { sql } from 'drizzle-orm';
import type { Executor } from '@/server/platform/db/database';
import type { DuplicateMatch } from '@/server/states';

const MOST = 200;
/** Tracks that many disks have, such as those of a system, say nothing of two of them. */
const COMMON = 20;
/** Of the tracks that can be compared, the share that makes two disks the same but for a few. */
const MOSTLY = 0.6;
/** Tracks compared before anything is said of a disk that is being read. */
const TRACKS_TO_SAY = 3;

/** Of `ma` and `mb`: nobody said yet what they are to one another. */
const UNSETTLED = sql`not exists (select 1 from relations r where (r.medium_id = ma.id
      and r.other_id = mb.id) or (r.medium_id = mb.id and r.other_id = ma.id))`;
const LATEST = sql`latest as (select distinct on (medium_id) id, medium_id, layout, image_sha256,
      image_bytes from fair_copies order by medium_id, id desc)`;

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
  const images = await sameImages(db);
  const pairs = await sharedFiles(db);
  const nearly = await nearlySame(db);
  return {
    nearly: nearly.rows.map(({ a, b, atitle, btitle, same, inall }) => ({
      a,
      b,
      aTitle: atitle,
      bTitle: btitle,
      same,
      of: inall,
    })),
    images: images.rows.map(({ sha256, bytes, media }) => ({
      sha256,
      bytes: Number(bytes),
      media,
    })),
    pairs: pairs.rows.map(({ a, b, atitle, btitle, shared, ofa, ofb, examples }) => ({
      a,
      b,
      aTitle: atitle,
      bTitle: btitle,
      shared,
      ofA: ofa,
      ofB: ofb,
      examples,
    })),
  };
}

async function sameImages(db: Executor) {
  return await db.execute<{ sha256: string; bytes: string; media: SameImage['media'] }>(sql`
    with ${LATEST}
    select image_sha256 as sha256, min(image_bytes) as bytes,
      json_agg(json_build_object('code', m.code, 'title', m.title, 'copyOf', (select o.code
      from relations r join media o on o.id = r.other_id where r.medium_id = m.id
      and r.kind = 'copy-of' order by o.code limit 1)) order by m.code) as media
    from latest join media m on m.id = latest.medium_id where not m.is_blank
      group by image_sha256 having count(*) > 1 order by count(*) desc, 1 limit ${MOST}`);
}

async function sharedFiles(db: Executor) {
  return await db.execute<{
    a: string;
    b: string;
    atitle: string;
    btitle: string;
    shared: number;
    ofa: number;
    ofb: number;
    examples: string[];
  }>(sql`
    with ${LATEST},
    held as (select distinct l.medium_id, f.sha256, min(f.path) as path from files f
      join volumes v on v.id = f.volume_id join latest l on l.id = v.fair_copy_id
      where f.kind = 'file' and f.bytes > 0 and f.sha256 is not null and not f.deleted
      group by 1, 2),
    counts as (select medium_id, count(*)::int as files from held group by 1)
    select ma.code as a, mb.code as b, ma.title as atitle,
      mb.title as btitle, count(*)::int as shared,
      ca.files as ofa, cb.files as ofb, (array_agg(x.path order by x.path))[1:5] as examples
    from held x join held y on x.sha256 = y.sha256 and x.medium_id < y.medium_id join media ma
      on ma.id = x.medium_id join media mb on mb.id = y.medium_id
    join counts ca on ca.medium_id = x.medium_id join counts cb on cb.medium_id = y.medium_id
      join latest la on la.medium_id = x.medium_id join latest lb on lb.medium_id = y.medium_id
    where la.image_sha256 <> lb.image_sha256 and ${UNSETTLED}
      group by ma.code, mb.code, ma.title, mb.title, ca.files, cb.files
      order by count(*)::float / least(ca.files, cb.files) desc, count(*) desc, 1, 2 limit ${MOST}`);
}

async function nearlySame(db: Executor) {
  return await db.execute<{
    a: string;
    b: string;
    atitle: string;
    btitle: string;
    same: number;
    inall: number;
  }>(sql`
    with ${LATEST},
    own as (select l.medium_id, t.cylinder, t.head, t.digest from track_digests t join latest l
      on l.id = t.fair_copy_id),
    rare as (select cylinder, head, digest from own group by 1, 2, 3 having count(*) between 2
      and ${COMMON}),
    held as (select own.* from own join rare using (cylinder, head, digest)),
    both_same as (select x.medium_id as a, y.medium_id as b, count(*)::int as same from held x
      join held y on x.cylinder = y.cylinder and x.head = y.head and x.digest = y.digest
      and x.medium_id < y.medium_id group by 1, 2),
    counted as (select s.*, (select count(*)::int from own x join own y on y.medium_id = s.b
      and x.cylinder = y.cylinder and x.head = y.head where x.medium_id = s.a) as inall
      from both_same s)
    select ma.code as a, mb.code as b, ma.title as atitle, mb.title as btitle, c.same, c.inall
    from counted c join media ma on ma.id = c.a join media mb on mb.id = c.b join latest la
      on la.medium_id = c.a join latest lb on lb.medium_id = c.b
    where la.image_sha256 <> lb.image_sha256 and c.same >= ${TRACKS_TO_SAY} and c.same >= ${MOSTLY}::float * c.inall
      and ${UNSETTLED}
      order by c.same::float / c.inall desc, 1, 2 limit ${MOST}`);
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
      join media m on m.id = c.medium_id where not m.is_blank
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
