/** A medium, or what is of none, written into the second store as it is now, and read back. */
import { eq, inArray, sql } from 'drizzle-orm';
import { contentFiles, newestFiles, versionOf, type Inventory } from '@/core/ocfl/inventory';
import { said } from '@/core/said';
import type { Database, Executor } from '@/server/platform/db/database';
import { saidOf } from '@/server/platform/errors';
import { media } from '../media/tables';
import { addAssemblyBlobs } from './assembly-blobs';
import { DraftVersion } from './draft-version';
import { addMedium } from './medium-object';
import { addRows } from './object-rows';
import { addHouse } from './house-object';
import { MIGRATIONS_FILE, migrationsToday } from './stored-migrations';
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
    await addRows(tx, draft, mediumId);
    return ledgerId;
  }, ONE_STATE);
}

async function addFilesOf(db: Database, draft: DraftVersion, { mediumId }: Target): Promise<void> {
  await draft.addText(MIGRATIONS_FILE, (await migrationsToday()).text);
  await addAssemblyBlobs(db, draft, mediumId);
  if (mediumId === null) return addHouse(db, draft);
  const [medium] = await db.select().from(media).where(eq(media.id, mediumId));
  await addMedium(db, draft, medium!);
}

const FILES_AT_ONCE = 5000;

/**
 * What a look through all of an object found stays until the next one: a further version is read back
 * where it is new, and no more.
 */
const FOUND_BY_READING: readonly string[] = [
  'secondStore.fileIsLost',
  'secondStore.inventoryIsLost',
];

/** What lies there, as it is now. `isWhole`: of a first version, all of which was read back. */
async function noteObject(
  tx: Executor,
  { id, mediumId }: Target,
  inventory: Inventory,
  { ledgerId, bytes, isWhole }: { ledgerId: number; bytes: number; isWhole: boolean },
): Promise<void> {
  const values = {
    ...{ mediumId, version: versionOf(inventory), ledgerId, bytes },
    ...{ files: newestFiles(inventory).length, writtenAt: new Date() },
  };
  await tx
    .insert(storedObjects)
    .values({ id, ...values, verifiedAt: isWhole ? new Date() : null })
    .onConflictDoUpdate({
      target: storedObjects.id,
      set: {
        ...values,
        ...(isWhole && { verifiedAt: new Date() }),
        trouble: sql`case when ${inArray(sql`${storedObjects.trouble} ->> 'code'`, [...FOUND_BY_READING])}
          then ${storedObjects.trouble} end`,
      },
    });
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

/** What stands in the way of an object is told of it, and it stays among those to be written. */
async function noteTrouble(commit: Commit, { id, mediumId }: Target, error: unknown) {
  const trouble = saidOf(error, (message) => said('secondStore.couldNotBeWritten', { message }));
  const nothingYet = { version: 0, ledgerId: -1, files: 0, bytes: 0, writtenAt: new Date() };
  await commit((tx) =>
    tx
      .insert(storedObjects)
      .values({ id, mediumId, trouble, ...nothingYet })
      .onConflictDoUpdate({ target: storedObjects.id, set: { trouble } }),
  );
}

interface Keeping {
  commit: Commit;
  /** Whether an error is what stops the work, and not the object. */
  stopsAll(error: unknown): Promise<boolean>;
}

/** Whether it lies there now; where it does not, why is told of it. */
export async function keepObject(
  db: Database,
  store: StoreOfHouse,
  mediumId: number | null,
  { commit, stopsAll }: Keeping,
): Promise<boolean> {
  const id = mediumId === null ? houseObject(store) : mediumObject(store, mediumId);
  const target = { id, mediumId };
  let draft: DraftVersion | null = null;
  try {
    draft = await DraftVersion.of(store.root, id);
    const isWhole = draft.before === null;
    const ledgerId = await addRowsOf(db, draft, target);
    await addFilesOf(db, draft, target);
    const inventory = await draft.keep({
      created: new Date(),
      message: `as of entry ${ledgerId} of the ledger`,
      user: { name: 'Frail Spindle', address: store.house },
    });
    const bytes = await store.root.bytesOf(inventory);
    await commit((tx) => noteObject(tx, target, inventory, { ledgerId, bytes, isWhole }));
    return true;
  } catch (error) {
    await draft?.drop().catch(() => undefined);
    if (await stopsAll(error)) throw error;
    await noteTrouble(commit, target, error);
    return false;
  }
}
