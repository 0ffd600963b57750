/** What is alike among everything kept: whole disks with the same image, and disks that share files. */
import { sql } from 'drizzle-orm';
import type { Executor } from '../db/database';

const MOST = 200;

export interface SameImage { sha256: string; bytes: number; media: { code: string; title: string }[] }
export interface SharedFiles { a: string; b: string; aTitle: string; bTitle: string; shared: number; ofA: number; ofB: number; examples: string[]; sameLayout: boolean }

export async function listAlike(db: Executor): Promise<{ images: SameImage[]; pairs: SharedFiles[] }> {
  const images = await db.execute<{ sha256: string; bytes: string; media: { code: string; title: string }[] }>(sql`
    with latest as (select distinct on (medium_id) id, medium_id, image_sha256, image_bytes from fair_copies order by medium_id, id desc)
    select image_sha256 as sha256, min(image_bytes) as bytes, json_agg(json_build_object('code', m.code, 'title', m.title) order by m.code) as media
    from latest join media m on m.id = latest.medium_id group by image_sha256 having count(*) > 1 order by count(*) desc, 1 limit ${MOST}`);
  const pairs = await db.execute<{ a: string; b: string; atitle: string; btitle: string; shared: number; ofa: number; ofb: number; examples: string[]; samelayout: boolean }>(sql`
    with latest as (select distinct on (medium_id) id, medium_id, layout, image_sha256 from fair_copies order by medium_id, id desc),
    held as (select distinct l.medium_id, f.sha256, min(f.path) as path from files f join volumes v on v.id = f.volume_id join latest l on l.id = v.fair_copy_id where f.kind = 'file' and f.bytes > 0 and f.sha256 is not null and not f.deleted group by 1, 2),
    counts as (select medium_id, count(*)::int as files from held group by 1)
    select ma.code as a, mb.code as b, ma.title as atitle, mb.title as btitle, count(*)::int as shared, ca.files as ofa, cb.files as ofb, (array_agg(x.path order by x.path))[1:5] as examples, coalesce(la.layout = lb.layout, false) as samelayout
    from held x join held y on x.sha256 = y.sha256 and x.medium_id < y.medium_id join media ma on ma.id = x.medium_id join media mb on mb.id = y.medium_id
    join counts ca on ca.medium_id = x.medium_id join counts cb on cb.medium_id = y.medium_id join latest la on la.medium_id = x.medium_id join latest lb on lb.medium_id = y.medium_id
    where la.image_sha256 <> lb.image_sha256 group by ma.code, mb.code, ma.title, mb.title, ca.files, cb.files, la.layout, lb.layout order by count(*)::float / least(ca.files, cb.files) desc, count(*) desc, 1, 2 limit ${MOST}`);
  return {
    images: images.rows.map(({ sha256, bytes, media }) => ({ sha256, bytes: Number(bytes), media })),
    pairs: pairs.rows.map(({ a, b, atitle, btitle, shared, ofa, ofb, examples, samelayout }) => ({ a, b, aTitle: atitle, bTitle: btitle, shared, ofA: ofa, ofB: ofb, examples, sameLayout: samelayout })),
  };
}
