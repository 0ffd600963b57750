/** Every event: who, when, with what. */
import { saidColumn } from '@/server/platform/db/said-column';
import { bigserial, check, index, integer, pgTable, text } from 'drizzle-orm/pg-core';
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
    index().on(table.kind),
    index().on(table.mediumId),
    index().on(table.sittingId),
  ],
);
