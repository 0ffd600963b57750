/** Bytes in chunks. */
import {
  bigint,
  boolean,
  check,
  index,
  integer,
  pgTable,
  primaryKey,
  text,
  uuid,
} from 'drizzle-orm/pg-core';
import { bytea, moment, oneOf } from '@/server/platform/db/columns';
import { type BlobState, BLOB_STATES } from '@/server/states';

export const blobs = pgTable(
  'blobs',
  {
    id: uuid().primaryKey().defaultRandom(),
    state: text().$type<BlobState>().notNull(),
    size: bigint({ mode: 'number' }).notNull().default(0),
    /** Written anywhere, not only at its end: chunks that were never written are zeros. */
    sparse: boolean().notNull().default(false),
    /** Hexadecimal; null until sealed. */
    sha256: text(),
    /** The blob that already held the same bytes when this one was sealed. */
    sameAs: uuid(),
    createdAt: moment('created_at').notNull().defaultNow(),
  },
  (table) => [
    check('blobs_state', oneOf(table.state, BLOB_STATES)),
    index().on(table.sha256),
    index().on(table.sameAs),
  ],
);

export const blobChunks = pgTable(
  'blob_chunks',
  {
    blobId: uuid()
      .notNull()
      .references(() => blobs.id),
    seq: integer().notNull(),
    bytes: bytea().notNull(),
  },
  (table) => [primaryKey({ columns: [table.blobId, table.seq] })],
);
