/** What lies in the second store: its objects, and the files of each. */
import {
  bigint,
  foreignKey,
  index,
  integer,
  pgTable,
  primaryKey,
  text,
  uuid,
} from 'drizzle-orm/pg-core';
import { jsonShape, moment } from '@/server/platform/db/columns';
import { saidColumn } from '@/server/platform/db/said-column';
import { media } from '../media/tables';

/** This house, in one row: what another one keeps in the same folder is told from its own. */
export const houses = pgTable('houses', {
  id: uuid().primaryKey().defaultRandom(),
  /** The folder that what is known of the second store is of. */
  secondStore: text().notNull().default(''),
});

/** One a medium, and one of what is of no medium. */
export const storedObjects = pgTable(
  'stored_objects',
  {
    /** As its inventory calls it. */
    id: text().primaryKey(),
    /** Null of what is of no medium. */
    mediumId: integer().references(() => media.id),
    version: integer().notNull(),
    /** The newest entry of the ledger that it has; below 0 where it is to be written whatever that is. */
    ledgerId: integer().notNull(),
    files: integer().notNull(),
    bytes: bigint({ mode: 'number' }).notNull(),
    writtenAt: moment('written_at').notNull(),
    /** When every byte of it was last read back; null of what was there before. */
    verifiedAt: moment('verified_at'),
    /** Why it is not as it should be; null where it is. */
    trouble: saidColumn(),
    jsonShape: jsonShape(),
  },
  (table) => [index().on(table.mediumId), index().on(table.verifiedAt)],
);

/** Files with bytes, of all versions, by their paths in the object. */
export const storedFiles = pgTable(
  'stored_files',
  {
    objectId: text().notNull(),
    path: text().notNull(),
    sha256: text().notNull(),
    sha512: text().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.objectId, table.path] }),
    foreignKey({ columns: [table.objectId], foreignColumns: [storedObjects.id] }),
    index().on(table.sha256),
  ],
);
