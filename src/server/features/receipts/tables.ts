/** Media that came and went: what a receipt was given for, and which of them are out of the house. */
import { sql } from 'drizzle-orm';
import {
  check,
  index,
  integer,
  pgTable,
  primaryKey,
  serial,
  text,
  uuid,
} from 'drizzle-orm/pg-core';
import { blobs } from '@/server/platform/blobs/tables';
import { moment, oneOf } from '@/server/platform/db/columns';
import { type ReceiptKind, RECEIPT_KINDS } from '@/server/states';
import { media } from '../media/tables';
import { operators } from '../operators/tables';

/** Given to be signed, and never changed: what is downloaded is what was given. */
export const receipts = pgTable(
  'receipts',
  {
    id: serial().primaryKey(),
    kind: text().$type<ReceiptKind>().notNull(),
    /** The day on which they came or went, `1996-05-12`. */
    day: text().notNull(),
    /** Who brought them, or took them. */
    person: text().notNull(),
    /** Of what was sent out: the day by which it should be back; empty where that is open. */
    backBy: text().notNull().default(''),
    notes: text().notNull().default(''),
    /** Whose media they were then, in a few words. */
    lenders: text().notNull(),
    /** The receipt itself, as PDF. */
    blobId: uuid()
      .notNull()
      .references(() => blobs.id),
    sha256: text().notNull(),
    bytes: integer().notNull(),
    madeBy: integer()
      .notNull()
      .references(() => operators.id),
    madeAt: moment('made_at').notNull().defaultNow(),
  },
  (table) => [
    check('receipts_kind', oneOf(table.kind, RECEIPT_KINDS)),
    check('receipts_back_by', sql`${table.backBy} = '' or ${table.kind} = 'sent-out'`),
    index().on(table.blobId),
    index().on(table.madeBy),
  ],
);

export const receiptMedia = pgTable(
  'receipt_media',
  {
    receiptId: integer()
      .notNull()
      .references(() => receipts.id),
    mediumId: integer()
      .notNull()
      .references(() => media.id),
  },
  (table) => [
    primaryKey({ columns: [table.receiptId, table.mediumId] }),
    index().on(table.mediumId),
  ],
);

/** Media that are not in the house, with the receipt by which they went. */
export const mediaOut = pgTable(
  'media_out',
  {
    mediumId: integer()
      .primaryKey()
      .references(() => media.id),
    receiptId: integer()
      .notNull()
      .references(() => receipts.id),
  },
  (table) => [index().on(table.receiptId)],
);
