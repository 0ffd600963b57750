/** What came in bags: told, and a bag itself where something of it became nothing else. */
import { desc, eq, sql } from 'drizzle-orm';
import { said } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { notFound } from '@/server/platform/errors';
import { blobDownload } from '../copies/downloads';
import { operators } from '../operators/tables';
import { cameBags, cameMedia } from './tables';

const MAX_LISTED = 200;
const MAX_TOLD = 40;

/** Newest first; those that are being taken in among them. */
export async function listCameBags(db: Executor) {
  const { id, name, info, files, bytes, lot, leftOver, beganAt, endedAt } = cameBags;
  const rows = await db
    .select({
      ...{ id, name, info, files, bytes, lot, leftOver, beganAt, endedAt },
      manifestSha256: cameBags.manifestSha256,
      who: operators.name,
      isKept: sql<boolean>`${cameBags.blobId} is not null`,
      codes: sql<string[]>`array(select m.code from came_media c join media m on m.id = c.medium_id
        where c.bag_id = came_bags.id order by m.code limit ${MAX_TOLD})`,
      media: sql<number>`(select count(*)::int from came_media c where c.bag_id = came_bags.id)`,
    })
    .from(cameBags)
    .innerJoin(operators, eq(operators.id, cameBags.takenInBy))
    .orderBy(desc(cameBags.id))
    .limit(MAX_LISTED);
  return rows.map(({ leftOver: all, ...row }) => ({
    ...row,
    leftOver: all.slice(0, MAX_TOLD),
    moreLeftOver: Math.max(0, all.length - MAX_TOLD),
  }));
}

export async function mediaOfBag(db: Executor, bagId: number): Promise<number[]> {
  const rows = await db.select().from(cameMedia).where(eq(cameMedia.bagId, bagId));
  return rows.map(({ mediumId }) => mediumId);
}

/** As it came. Throws UserError, 404, where nothing of it was left over. */
export async function bagAsItCame(db: Database, id: number, headers: Headers): Promise<Response> {
  const [bag] = await db.select().from(cameBags).where(eq(cameBags.id, id));
  if (!bag?.blobId) throw notFound(said('bags.bagItself'));
  return blobDownload(db, headers, bag.blobId, bag.name, 'application/x-tar');
}
