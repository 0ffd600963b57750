/** How everything kept is cared for: both stores, when each was read through, and what is wrong. */
import { access, constants } from 'node:fs/promises';
import { asc, desc, eq, isNotNull, sql } from 'drizzle-orm';
import { tell } from '@/messages/tell';
import type { Executor } from '@/server/platform/db/database';
import { fixityView } from '../fixity/fixity';
import { media } from '../media/tables';
import { isAnothers, isMissing, storeOfHouse, type StoreOfHouse } from './store-of-house';
import { storedObjects } from './tables';

const MAX_LISTED = 200;

const isReached = (path: string): Promise<boolean> =>
  access(path, constants.W_OK).then(
    () => true,
    () => false,
  );

async function stateOf(
  db: Executor,
  store: StoreOfHouse,
): Promise<'reached' | 'away' | 'anothers'> {
  if (!(await isReached(store.folder)) || (await isMissing(db, store))) return 'away';
  return (await isAnothers(store)) ? 'anothers' : 'reached';
}

async function figuresOf(db: Executor) {
  const [row] = await db
    .select({
      objects: sql<number>`(count(*) filter (where ${storedObjects.version} > 0
        and ${storedObjects.mediumId} is not null))::int`,
      bytes: sql<number>`coalesce(sum(${storedObjects.bytes}), 0)::float8`,
      written: sql<string | null>`max(${storedObjects.writtenAt})`,
      oldest: sql<string | null>`min(${storedObjects.verifiedAt})`,
    })
    .from(storedObjects);
  const { rows } = await db.execute<{ media: number; behind: number }>(sql`
    select count(*)::int as media, (count(*) filter (where newest.id > coalesce(o.ledger_id, 0)
        or coalesce(o.version, 0) = 0))::int as behind
    from media m left join stored_objects o on o.medium_id = m.id
      cross join lateral (select max(l.id) as id from ledger l where l.medium_id = m.id) newest`);
  return { ...row!, ...rows[0]! };
}

/** Objects that are not as they should be, what happened last first. */
async function troublesOf(db: Executor) {
  const rows = await db
    .select({ id: storedObjects.id, code: media.code, trouble: storedObjects.trouble })
    .from(storedObjects)
    .leftJoin(media, eq(media.id, storedObjects.mediumId))
    .where(isNotNull(storedObjects.trouble))
    .orderBy(desc(storedObjects.writtenAt), asc(storedObjects.id))
    .limit(MAX_LISTED);
  return rows.map(({ trouble, ...row }) => ({ ...row, trouble: tell(trouble!) }));
}

/** Null where no second store is set up. */
async function secondStoreView(db: Executor) {
  const store = await storeOfHouse(db);
  if (!store) return null;
  const { root } = store.root;
  return {
    folder: root,
    state: await stateOf(db, store),
    ...(await figuresOf(db)),
    troubles: await troublesOf(db),
  };
}

export async function careView(db: Executor) {
  return { ...(await fixityView(db)), second: await secondStoreView(db) };
}
