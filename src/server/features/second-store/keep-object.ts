/** A medium, or what is of none, written into the second store as it is now, and read back. */
import { eq, sql } from 'drizzle-orm';
import { contentFiles, newestFiles, versionOf, type Inventory } from '@/core/ocfl/inventory';
import { said } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { saidOf } from '@/server/platform/errors';
import { media } from '../media/tables';
import { DraftVersion } from './draft-version';
import { addMedium } from './medium-object';
import { addRows } from './object-rows';
import { addHouse } from './house-object';
import { ROWS_OF_HOUSE, ROWS_OF_MEDIUM } from './row-owners';
import { houseObject, mediumObject, type StoreOfHouse } from './store-of-house';
import { storedFiles, storedObjects } from './tables';

type Commit = <T>(work: (tx: Executor) => Promise<T>) => Promise<T>;

interface Target {
  id: string;
  /** Null of what is of no medium. */
  mediumId: number | null;
}

/** One state of all tables, as long as it is read. */
const ONE_STATE = { isolationLevel: 'repeatable read', accessMode: 'read only' } as const;

const ofTarget = ({ mediumId }: Target) =>
  mediumId === null ? sql`medium_id is null` : sql`medium_id = ${mediumId}`;

async function newestEntry(tx: Executor, target: Target): Promise<number> {
  const { rows } = await tx.execute<{ id: number }>(
    sql`select coalesce(max(id), 0)::int as id from ledger where ${ofTarget(target)}`,
  );
  return rows[0]!.id;
}

/** Answers with the newest entry of the ledger that stands in it. */
async function addRowsOf(db: Database, draft: DraftVersion, target: Target): Promise<number> {
  const { mediumId } = target;
  return db.transaction(async (tx) => {
    const ledgerId = await newestEntry(tx, target);
    await addRows(tx, draft, mediumId === null ? ROWS_OF_HOUSE : ROWS_OF_MEDIUM, mediumId ?? 0);
    return ledgerId;
  }, ONE_STATE);
}

async function addFilesOf(db: Database, draft: DraftVersion, { mediumId }: Target): Promise<void> {
  if (mediumId === null) return addHouse(db, draft);
  const [medium] = await db.select().from(media).where(eq(media.id, mediumId));
  await addMedium(db, draft, medium!);
}

const FILES_AT_ONCE = 5000;

/** What lies there, as it is now. */
async function noteObject(
  tx: Executor,
  { id, mediumId }: Target,
  inventory: Inventory,
  { ledgerId, bytes }: { ledgerId: number; bytes: number },
): Promise<void> {
  const values = {
    ...{ mediumId, version: versionOf(inventory), ledgerId, bytes, trouble: null },
    ...{ files: newestFiles(inventory).length, writtenAt: new Date(), verifiedAt: new Date() },
  };
  await tx
    .insert(storedObjects)
    .values({ id, ...values })
    .onConflictDoUpdate({ target: storedObjects.id, set: values });
  const sha256Of = new Map(
    Object.entries(inventory.fixity.sha256).flatMap(([sha256, paths]) =>
      paths.map((path) => [path, sha256] as const),
    ),
  );
  const files = contentFiles(inventory).map(({ sha512, content: path }) => ({
    ...{ objectId: id, path, sha512, sha256: sha256Of.get(path) ?? '' },
  }));
  for (let at = 0; at < files.length; at += FILES_AT_ONCE)
    await tx
      .insert(storedFiles)
      .values(files.slice(at, at + FILES_AT_ONCE))
      .onConflictDoNothing();
}

async function bytesOf({ root }: StoreOfHouse, inventory: Inventory): Promise<number> {
  const sizes = await Promise.all(
    contentFiles(inventory).map(({ content }) => root.bytesOf(inventory.id, content)),
  );
  return sizes.reduce((sum, size) => sum + size, 0);
}

/** What stands in the way of an object is told of it, and tried again once something of it is other. */
async function noteTrouble(db: Database, commit: Commit, target: Target, error: unknown) {
  const trouble = saidOf(error, (message) => said('secondStore.couldNotBeWritten', { message }));
  const ledgerId = await newestEntry(db, target);
  await commit((tx) =>
    tx
      .insert(storedObjects)
      .values({
        ...{ id: target.id, mediumId: target.mediumId, ledgerId, trouble },
        ...{ version: 0, files: 0, bytes: 0, writtenAt: new Date() },
      })
      .onConflictDoUpdate({ target: storedObjects.id, set: { trouble, ledgerId } }),
  );
}

/** Whether it is what stops the work, and not the object. */
type StopsAll = (error: unknown) => boolean;

export async function keepObject(
  db: Database,
  store: StoreOfHouse,
  mediumId: number | null,
  { commit, stopsAll }: { commit: Commit; stopsAll: StopsAll },
): Promise<void> {
  const id = mediumId === null ? houseObject(store) : mediumObject(store, mediumId);
  const target = { id, mediumId };
  let draft: DraftVersion | null = null;
  try {
    draft = await DraftVersion.of(store.root, id);
    const ledgerId = await addRowsOf(db, draft, target);
    await addFilesOf(db, draft, target);
    const inventory = await draft.keep({
      created: new Date(),
      message: `as of entry ${ledgerId} of the ledger`,
      user: { name: 'Frail Spindle', address: store.house },
    });
    const bytes = await bytesOf(store, inventory);
    await commit((tx) => noteObject(tx, target, inventory, { ledgerId, bytes }));
  } catch (error) {
    await draft?.drop();
    if (stopsAll(error)) throw error;
    await noteTrouble(db, commit, target, error);
  }
}
