/** The second store of this house: the folder it lies in, and what its objects are called. */
import { readdir } from 'node:fs/promises';
import { said } from '@/core/said';
import { config } from '@/server/platform/config';
import type { Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { OcflRoot } from './ocfl-root';
import { houses } from './tables';

export interface StoreOfHouse {
  root: OcflRoot;
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
  return folder === null ? null : { root: new OcflRoot(folder), house: await houseOf(db) };
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

/** Begins it where it is new. Throws UserError where another house keeps its own in that folder. */
export async function beginStore(store: StoreOfHouse): Promise<void> {
  if (await isAnothers(store)) throw new UserError(said('secondStore.isAnothers'), 409);
  await store.root.prepare();
}
