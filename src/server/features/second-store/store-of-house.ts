/** The second store of this house: the folder it lies in, and what its objects are called. */
import { readdir } from 'node:fs/promises';
import { and, eq, gt, notExists } from 'drizzle-orm';
import { said } from '@/core/said';
import { config } from '@/server/platform/config';
import type { Database, Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { OcflRoot } from './ocfl-root';
import { migrationsToday } from './stored-migrations';
import { houses, storedFiles, storedObjects } from './tables';

export interface StoreOfHouse {
  root: OcflRoot;
  /** As it was set up. */
  folder: string;
  /** A URI. */
  house: string;
}

export const houseObject = ({ house }: Pick<StoreOfHouse, 'house'>): string => house;
export const mediumObject = ({ house }: Pick<StoreOfHouse, 'house'>, mediumId: number): string =>
  `${house}#medium-${mediumId}`;

/** Null where none is set up. */
export const secondStoreFolder = (): string | null => config().SPINDLE_SECOND_STORE || null;

async function houseOf(db: Executor): Promise<string> {
  const [row] = await db.select().from(houses);
  return `urn:uuid:${row!.id}`;
}

/** Of a store that was begun already, as it lies; null where none is set up. */
export async function storeOfHouse(db: Executor): Promise<StoreOfHouse | null> {
  const folder = secondStoreFolder();
  return folder === null ? null : { root: new OcflRoot(folder), folder, house: await houseOf(db) };
}

async function holdsObjects({ root }: OcflRoot): Promise<boolean> {
  const names = await readdir(root, { withFileTypes: true }).catch(() => []);
  return names.some((entry) => entry.isDirectory() && entry.name !== 'extensions');
}

/** Whether another house keeps its own in that folder. */
export async function isAnothers(store: StoreOfHouse): Promise<boolean> {
  const own = store.root.folderOf(houseObject(store));
  return (await holdsObjects(store.root)) && !(await store.root.inventoryAt(own));
}

const folderKnown = async (db: Executor): Promise<string> =>
  (await db.select().from(houses))[0]!.secondStore;

/**
 * Whether the house lay in that folder and does not: a disk that is not mounted leaves an empty
 * folder, and nothing is to be written onto the disk below it.
 */
export async function isMissing(db: Executor, store: StoreOfHouse): Promise<boolean> {
  const [written] = await db
    .select({ id: storedObjects.id })
    .from(storedObjects)
    .where(and(eq(storedObjects.id, houseObject(store)), gt(storedObjects.version, 0)));
  if (!written || (await folderKnown(db)) !== store.folder) return false;
  return (await store.root.inventoryAt(store.root.folderOf(houseObject(store)))) === null;
}

/** What is known is of the folder that is set up: in a new one nothing lies yet. */
async function settleFolder(db: Database, { folder }: StoreOfHouse): Promise<void> {
  await db.transaction(async (tx) => {
    if ((await folderKnown(tx)) === folder) return;
    await tx.delete(storedFiles);
    await tx.delete(storedObjects);
    await tx.update(houses).set({ secondStore: folder });
  });
}

/** Rows of a version before are read through its migrations: all of it is written anew with today's. */
async function settleMigrations(db: Database): Promise<void> {
  const { sha256 } = await migrationsToday();
  await db
    .update(storedObjects)
    .set({ ledgerId: -1 })
    .where(
      notExists(
        db
          .select({ path: storedFiles.path })
          .from(storedFiles)
          .where(and(eq(storedFiles.objectId, storedObjects.id), eq(storedFiles.sha256, sha256))),
      ),
    );
}

/**
 * Begins it where it is new. Throws UserError where another house keeps its own in that folder, and
 * where this one's own is not there any more.
 */
export async function beginStore(db: Database, store: StoreOfHouse): Promise<void> {
  if (await isAnothers(store)) throw new UserError(said('secondStore.isAnothers'), 409);
  if (await isMissing(db, store)) throw new UserError(said('secondStore.isNotThere'), 409);
  await settleFolder(db, store);
  await settleMigrations(db);
  await store.root.prepare();
}
