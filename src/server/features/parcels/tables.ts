/** What is given to others: which media, with what of them, to whom; and when it went. */
import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  serial,
  text,
} from 'drizzle-orm/pg-core';
import { jsonShape, moment } from '@/server/platform/db/columns';
import { media } from '../media/tables';
import { operators } from '../operators/tables';

export const parcels = pgTable(
  'parcels',
  {
    id: serial().primaryKey(),
    title: text().notNull(),
    /** To whom it goes. */
    recipient: text().notNull(),
    notes: text().notNull().default(''),
    /** With the captures that the images were made of. */
    withFlux: boolean().notNull(),
    /** With the files of the volumes, each for itself. */
    withFiles: boolean().notNull(),
    acknowledgesQuarantine: boolean().notNull().default(false),
    madeBy: integer()
      .notNull()
      .references(() => operators.id),
    madeAt: moment('made_at').notNull().defaultNow(),
  },
  (table) => [index().on(table.madeBy)],
);

export const parcelMedia = pgTable(
  'parcel_media',
  {
    parcelId: integer()
      .notNull()
      .references(() => parcels.id),
    mediumId: integer()
      .notNull()
      .references(() => media.id),
  },
  (table) => [
    primaryKey({ columns: [table.parcelId, table.mediumId] }),
    index().on(table.mediumId),
  ],
);

/** A time that all of it went: what one holds is what this manifest says. */
export const parcelSendings = pgTable(
  'parcel_sendings',
  {
    id: serial().primaryKey(),
    parcelId: integer()
      .notNull()
      .references(() => parcels.id),
    sentBy: integer()
      .notNull()
      .references(() => operators.id),
    sentAt: moment('sent_at').notNull().defaultNow(),
    /** Of the payload. */
    bytes: bigint({ mode: 'number' }).notNull(),
    files: integer().notNull(),
    seconds: integer().notNull(),
    /** SHA-256 of `manifest-sha256.txt`. */
    manifestSha256: text().notNull(),
    /** Each file of the payload as its manifest has it. */
    manifest: jsonb().$type<{ path: string; bytes: number; sha256: string }[]>().notNull(),
    jsonShape: jsonShape(),
  },
  (table) => [
    index().on(table.parcelId),
    index().on(table.sentBy),
    check('parcel_sendings_bytes', sql`${table.bytes} >= 0`),
  ],
);
