/** What a person settled of media that are alike. */
import { check, index, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core';
import { moment, oneOf } from '@/server/platform/db/columns';
import { type RelationKind, RELATION_KINDS } from '@/server/states';
import { media } from '../media/tables';
import { operators } from '../operators/tables';

/** What a person settled of two media that are alike. */
export const relations = pgTable(
  'relations',
  {
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    otherId: integer()
      .notNull()
      .references(() => media.id),
    /** `copy-of`: the first was made from the second. */
    kind: text().$type<RelationKind>().notNull(),
    operatorId: integer()
      .notNull()
      .references(() => operators.id),
    at: moment('at').notNull().defaultNow(),
  },
  (table) => [
    check('relations_kind', oneOf(table.kind, RELATION_KINDS)),
    primaryKey({ columns: [table.mediumId, table.otherId] }),
    index().on(table.otherId),
  ],
);
