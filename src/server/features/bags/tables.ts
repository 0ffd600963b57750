/** Bags that came from others: what was taken in of each. */
import {
  bigint,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  serial,
  text,
  uuid,
} from 'drizzle-orm/pg-core';
import type { BagInfo } from '@/core/parcel/bag-reading';
import { blobs } from '@/server/platform/blobs/tables';
import { jsonShape, moment } from '@/server/platform/db/columns';
import { media } from '../media/tables';
import { operators } from '../operators/tables';

/** A bag that was found whole. */
export const cameBags = pgTable(
  'came_bags',
  {
    id: serial().primaryKey(),
    /** The upload that it came as, for as long as that is taken in. */
    uploadNumber: integer().notNull().unique(),
    /** What it was called. */
    name: text().notNull(),
    /** Of its manifest by SHA-256, else of its strongest: what is the same bag has the same. */
    manifestSha256: text().notNull(),
    /** What it says of itself, in its order. */
    info: jsonb().$type<BagInfo[]>().notNull(),
    files: integer().notNull(),
    bytes: bigint({ mode: 'number' }).notNull(),
    /** The lot of what it says of itself and of what is of no medium; empty where there is none. */
    lot: text().notNull(),
    /** Paths of what is neither of a medium nor a paper: the bag itself is kept for them. */
    leftOver: jsonb().$type<string[]>().notNull(),
    blobId: uuid().references(() => blobs.id),
    takenInBy: integer()
      .notNull()
      .references(() => operators.id),
    beganAt: moment('began_at').notNull().defaultNow(),
    /** Null while it is being taken in. */
    endedAt: moment('ended_at'),
    jsonShape: jsonShape(),
  },
  (table) => [
    index().on(table.manifestSha256),
    index().on(table.blobId),
    index().on(table.takenInBy),
  ],
);

/** What became a medium: a folder of the bag, or a file of it. */
export const cameMedia = pgTable(
  'came_media',
  {
    bagId: integer()
      .notNull()
      .references(() => cameBags.id),
    path: text().notNull(),
    mediumId: integer()
      .notNull()
      .references(() => media.id),
  },
  (table) => [primaryKey({ columns: [table.bagId, table.path] }), index().on(table.mediumId)],
);
