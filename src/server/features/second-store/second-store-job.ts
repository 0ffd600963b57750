/**
 * Keeps everything a second time, as long as it runs: what is new or other is written and read back,
 * what is there is read through in turn, and what either store lost is given back by the other.
 */
import { setTimeout as sleep } from 'node:timers/promises';
import { and, eq, gt, inArray, sql } from 'drizzle-orm';
import { said } from '@/core/said';
import { config } from '@/server/platform/config';
import type { Database, Executor } from '@/server/platform/db/database';
import { saidOf, UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { log } from '@/server/platform/log';
import { enqueue } from '@/server/platform/jobs/enqueue';
import { isTakenUpAgain, type JobContext, type JobOutcome } from '@/server/platform/jobs/engine';
import { jobs } from '@/server/platform/jobs/tables';
import { keepObject } from './keep-object';
import { isOfDisk, isThere } from './ocfl-root';
import { noteOfObject, repairBlobs, repairFiles } from './repair';
import {
  beginStore,
  houseObject,
  isMissing,
  secondStoreFolder,
  storeOfHouse,
} from './store-of-house';
import type { StoreOfHouse } from './store-of-house';
import { storedObjects } from './tables';

/** What nobody lets alone is written once what lies there is so old. */
const LONGEST_MINUTES = 10;
const HOUSE_MINUTES = 60;
const MEDIA_AT_ONCE = 50;
const REST_MS = 3000;
/** Where its disk is away. */
const TROUBLE_MS = 30_000;
/** Of the time, what reading through takes. */
const SHARE = 0.2;

type Context = Pick<JobContext<'second-store'>, 'db' | 'commit' | 'signal'>;

/** One for all workers, from when there is a store on. */
export async function askForSecondStore(db: Database): Promise<void> {
  if (secondStoreFolder() === null) return;
  await db.transaction(async (tx) => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext('second-store'))`);
    const [there] = await tx
      .select({ id: jobs.id })
      .from(jobs)
      .where(and(eq(jobs.kind, 'second-store'), inArray(jobs.state, ['waiting', 'running'])));
    if (!there) await enqueue(tx, 'second-store', { stores: 1 });
  });
}

/** Objects that could not be written, with when they are tried again. */
type Resting = Map<number | null, number>;
const RESTING_MS = 600_000;

const restingNow = (resting: Resting): (number | null)[] =>
  [...resting].filter(([, until]) => until > Date.now()).map(([mediumId]) => mediumId);

/** Media of which something was noted since they were written, let alone for a while, oldest first. */
async function mediaToKeep(
  db: Executor,
  quietSeconds: number,
  resting: Resting,
): Promise<number[]> {
  const notNow = restingNow(resting).filter((id) => id !== null);
  const { rows } = await db.execute<{ id: number }>(sql`
    select m.id from media m
      left join stored_objects o on o.medium_id = m.id
      cross join lateral (select max(l.id) as id, max(l.at) as at from ledger l
        where l.medium_id = m.id) newest
    where newest.id > coalesce(o.ledger_id, -1) and m.id <> all(${sql.param(notNow)}::int[])
      and (newest.at <= now() - make_interval(secs => ${quietSeconds})
        or o.written_at <= now() - make_interval(mins => ${LONGEST_MINUTES}))
      and not exists (select 1 from sittings s join blobs b on b.id = s.capture_blob
        where s.medium_id = m.id and b.state = 'growing')
    order by newest.id limit ${MEDIA_AT_ONCE}`);
  return rows.map(({ id }) => id);
}

/**
 * Each of its versions lists all of its files again: it is written once an hour, and at once where it
 * never was. What a medium names stands beside the medium as well.
 */
async function isHouseToKeep(db: Executor, store: StoreOfHouse): Promise<boolean> {
  const { rows } = await db.execute<{ is: boolean }>(sql`
    select coalesce(o.ledger_id, -1) < 0 or (newest.id > o.ledger_id
      and o.written_at <= now() - make_interval(mins => ${HOUSE_MINUTES})) as is
    from (select coalesce(max(id), 0) as id from ledger where medium_id is null) newest
      left join stored_objects o on o.id = ${houseObject(store)}`);
  return rows[0]!.is;
}

/** Writes what is new or other. Answers with how many objects that were. */
export async function keepWhatIsNew(
  { db, commit, signal }: Context,
  store: StoreOfHouse,
  quietSeconds = config().SPINDLE_SECOND_STORE_AFTER,
  resting: Resting = new Map(),
): Promise<number> {
  const stopsAll = async (error: unknown) =>
    (await isStoreAway(error, store)) || isTakenUpAgain(error, signal);
  const media = await mediaToKeep(db, quietSeconds, resting);
  const isHouse = await isHouseToKeep(db, store);
  const isResting = restingNow(resting).includes(null);
  const wanted = [...(isHouse && !isResting ? [null] : []), ...media];
  let written = 0;
  for (const mediumId of wanted) {
    signal.throwIfAborted();
    if (await keepObject(db, store, mediumId, { commit, stopsAll })) written++;
    else resting.set(mediumId, Date.now() + RESTING_MS);
  }
  if (wanted.length > 0) await commit((tx) => announce(tx, { kind: 'fixity' }));
  return written;
}

const OF_ALL_OF_A_DISK = ['ENOSPC', 'EROFS', 'EIO', 'EACCES', 'ENODEV', 'ESTALE', 'EDQUOT'];

/** Its disk is full, gone, or can't be written; a single file that is missing is another matter. */
async function isStoreAway(error: unknown, { root }: StoreOfHouse): Promise<boolean> {
  if (!isOfDisk(error)) return false;
  return OF_ALL_OF_A_DISK.includes(error.code ?? '') || !(await isThere(root.root));
}

/** Reads the object through whose turn it is. False where it is no object's. */
export async function verifyNext(
  { db, commit, signal }: Context,
  store: StoreOfHouse,
  days = config().SPINDLE_CHECK_DAYS,
): Promise<boolean> {
  const [next] = await db
    .select()
    .from(storedObjects)
    .where(
      and(
        gt(storedObjects.version, 0),
        sql`(${storedObjects.verifiedAt} is null
          or ${storedObjects.verifiedAt} <= now() - make_interval(days => ${days}))`,
      ),
    )
    .orderBy(sql`${storedObjects.verifiedAt} nulls first`)
    .limit(1);
  if (!next) return false;
  let began = performance.now();
  const between = async () => {
    await sleep((performance.now() - began) * (1 / SHARE - 1), undefined, { signal });
    began = performance.now();
  };
  const inventory = await store.root.inventoryOf(next.id).catch(() => null);
  const damaged = inventory ? await store.root.damagedIn(inventory, between) : [];
  // What can't be read as its disk went says nothing of any file.
  if ((!inventory || damaged.length > 0) && (await isMissing(db, store)))
    throw new UserError(said('secondStore.isNotThere'), 409);
  const lost = inventory ? await repairFiles(db, store, inventory, damaged, commit) : [];
  const trouble = inventory
    ? lost[0] && said('secondStore.fileIsLost', { path: lost[0].content, more: lost.length - 1 })
    : said('secondStore.inventoryIsLost');
  await commit(async (tx) => {
    await tx
      .update(storedObjects)
      .set({ verifiedAt: new Date(), trouble: trouble ?? null })
      .where(eq(storedObjects.id, next.id));
    if (trouble && trouble.code !== next.trouble?.code) await noteOfObject(tx, next.id, trouble);
    await announce(tx, { kind: 'fixity' });
  });
  return true;
}

async function onePass(
  context: Context,
  store: StoreOfHouse,
  { tried, resting }: { tried: Set<string>; resting: Resting },
): Promise<boolean> {
  const repaired = await repairBlobs(context.db, store, context.commit, tried);
  const written = await keepWhatIsNew(context, store, undefined, resting);
  return repaired + written > 0 || (await verifyNext(context, store));
}

/** Goes on until its worker ends; another one takes it up then. */
export async function runSecondStore(context: JobContext<'second-store'>): Promise<JobOutcome> {
  const { db, signal } = context;
  const rest = (ms: number) => sleep(ms, undefined, { signal }).catch(() => undefined);
  const store = await storeOfHouse(db);
  if (!store) return 'done';
  /** What could not be put right or written is not tried again and again. */
  const before = { tried: new Set<string>(), resting: new Map<number | null, number>() };
  let isBegun = false;
  let told = '';
  while (!signal.aborted) {
    try {
      if (!isBegun) await beginStore(db, store);
      isBegun = true;
      if (await isMissing(db, store)) throw new UserError(said('secondStore.isNotThere'), 409);
      if (!(await onePass(context, store, before))) await rest(REST_MS);
      told = '';
    } catch (error) {
      // Also where it is full: that is no matter of the database's own disk.
      if (!(await isStoreAway(error, store)) && isTakenUpAgain(error, signal)) throw error;
      // A disk that is away for a night fills no log.
      const now = JSON.stringify(
        saidOf(error, (message) => said('secondStore.isAway', { message })),
      );
      if (now !== told) log().warn({ err: error }, 'second store');
      told = now;
      isBegun = false;
      await rest(TROUBLE_MS);
    }
  }
  return 'again';
}
