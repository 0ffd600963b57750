/** Bytes in chunks. */
import { sql } from 'drizzle-orm';
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
    /** Of a sealed sparse one: how many chunks were written, so that one that is gone is no hole. */
    chunks: integer(),
    createdAt: moment('created_at').notNull().defaultNow(),
    /** When every byte was last found as it was sealed. */
    checkedAt: moment('checked_at'),
    /** When it was found damaged, and the first chunk that is; null of what is sound. */
    damagedAt: moment('damaged_at'),
    damagedChunk: integer(),
    /** Asked to be checked before its turn. */
    dueAt: moment('due_at'),
  },
  (table) => [
    check('blobs_state', oneOf(table.state, BLOB_STATES)),
    index('blobs_to_check')
      .on(table.dueAt, table.checkedAt.nullsFirst())
      .where(sql`${table.state} = 'sealed'`),
    index('blobs_damaged')
      .on(table.damagedAt)
      .where(sql`${table.damagedAt} is not null`),
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
    /** SHA-256 of the bytes, written with them; null in stores made before, until they are checked. */
    digest: bytea(),
  },
  (table) => [
    primaryKey({ columns: [table.blobId, table.seq] }),
    check('blob_chunks_digest', sql`octet_length(${table.digest}) = 32`),
  ],
);
