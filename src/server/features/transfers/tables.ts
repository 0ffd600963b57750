/** Images on their way over a serial line. */
import { saidColumn } from '@/server/platform/db/said-column';
import { boolean, check, index, integer, jsonb, pgTable, serial, text } from 'drizzle-orm/pg-core';
import type { SenderProgress } from '@/core/transfer/xmodem';
import { jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import { type TransferState, TRANSFER_STATES } from '@/server/states';
import { fairCopies } from '../copies/tables';
import { operators } from '../operators/tables';

/** An image on its way to a machine that has no other way in. */
export const transfers = pgTable(
  'transfers',
  {
    id: serial().primaryKey(),
    fairCopyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    line: text().notNull(),
    /** Bits a second. */
    rate: integer().notNull(),
    /** Blocks of 1,024 bytes, where the other side takes them. */
    large: boolean().notNull().default(false),
    /** A receiving program that is typed in first; empty where the other side has one. */
    loader: text().notNull().default(''),
    /** How it is typed: characters a second, milliseconds behind each line. */
    typingRate: integer().notNull().default(10),
    linePauseMs: integer().notNull().default(200),
    /** Characters of it that were typed. */
    typed: integer().notNull().default(0),
    /** What the image is to be called there, for the sheet. */
    nameThere: text().notNull().default(''),
    state: text().$type<TransferState>().notNull(),
    /** One sentence. */
    now: saidColumn().notNull(),
    progress: jsonb().$type<SenderProgress>(),
    bytes: integer().notNull(),
    /** Blocks that went more than once. */
    repeated: integer().notNull().default(0),
    cancelled: boolean().notNull().default(false),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('transfers_state', oneOf(table.state, TRANSFER_STATES)),
    index().on(table.fairCopyId),
    index().on(table.state),
  ],
);
