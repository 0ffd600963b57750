/** Every event: who, when, with what; and the seals that show that none was changed since. */
import { sql } from 'drizzle-orm';
import { saidColumn } from '@/server/platform/db/said-column';
import {
  bigint,
  bigserial,
  check,
  index,
  integer,
  pgTable,
  serial,
  text,
} from 'drizzle-orm/pg-core';
import { jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import { type LedgerKind, LEDGER_KINDS } from '@/server/states';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { sittings } from '../sittings/tables';
import { stations } from '../stations/tables';
import { writebacks } from '../writebacks/tables';

export const ledger = pgTable(
  'ledger',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    at: moment('at').notNull().defaultNow(),
    /** Null of what the application found by itself. */
    operatorId: integer().references(() => operators.id),
    kind: text().$type<LedgerKind>().notNull(),
    mediumId: integer().references(() => media.id),
    stationId: integer().references(() => stations.id),
    sittingId: integer().references(() => sittings.id),
    writebackId: integer().references(() => writebacks.id),
    /** One sentence. */
    what: saidColumn().notNull(),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('ledger_kind', oneOf(table.kind, LEDGER_KINDS)),
    index().on(table.writebackId),
    index().on(table.stationId),
    index().on(table.kind, table.id),
    index().on(table.operatorId, table.id),
    index().on(table.mediumId),
    index().on(table.at),
    index().on(table.sittingId),
  ],
);

/**
 * What an entry says, in small letters, with the code and the name that stood beside it then: what
 * it is found by. Made of the entry, and made anew where it lacks.
 */
export const ledgerWords = pgTable('ledger_words', {
  ledgerId: bigint({ mode: 'number' })
    .primaryKey()
    .references(() => ledger.id, { onDelete: 'cascade' }),
  words: text().notNull(),
});

/**
 * One stretch of entries after the other, closed by `seal_ledger` (migration 0023), which alone may
 * write here: none is added to it, none taken out, none changed without being noticed.
 */
export const ledgerSeals = pgTable('ledger_seals', {
  id: serial().primaryKey(),
  /** The number behind the last of the seal before; there may be no such entry. */
  fromId: bigint({ mode: 'number' }).notNull(),
  throughId: bigint({ mode: 'number' }).notNull().unique(),
  entries: integer().notNull(),
  /** SHA-256 of the digest before (nothing for the first) and the digest of each entry, as hex. */
  digest: text().notNull(),
  at: moment('at').notNull().defaultNow(),
});

/** How the last look at all seals came out: one row. */
export const ledgerChecks = pgTable(
  'ledger_checks',
  {
    id: integer().primaryKey().default(1),
    /** Null where another is asked for. */
    at: moment('at'),
    /** Entries that were held against seals. */
    entries: bigint({ mode: 'number' }).notNull(),
    /** The last entry sealed, and its seal. */
    throughId: bigint({ mode: 'number' }).notNull(),
    digest: text().notNull(),
    /** The first stretch that is not what it was; null where all of them are. */
    brokenFrom: bigint({ mode: 'number' }),
    brokenThrough: bigint({ mode: 'number' }),
  },
  (table) => [check('ledger_checks_one_row', sql`${table.id} = 1`)],
);
