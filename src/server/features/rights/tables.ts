/** What may be done with media, sets and lots, and who may take out what is held in the house. */
import { sql } from 'drizzle-orm';
import { boolean, check, index, integer, pgTable, serial, text } from 'drizzle-orm/pg-core';
import { moment } from '@/server/platform/db/columns';
import { ownerColumns } from '../media/owner-columns';
import { media } from '../media/tables';
import { operators } from '../operators/tables';

/** A row is of one medium, of one set or of one lot. */
export const rights = pgTable(
  'rights',
  {
    id: serial().primaryKey(),
    ...ownerColumns(),
    /** A URI; empty where only words say it, or nothing does. */
    statement: text().notNull().default(''),
    words: text().notNull().default(''),
    isRestricted: boolean().notNull().default(false),
    /** Why, where it is. */
    reason: text().notNull().default(''),
    /** The day from which on it is no more, `2041-01-01`; empty where nobody said one. */
    opensOn: text().notNull().default(''),
    isPersonal: boolean().notNull().default(false),
  },
  (table) => [
    check(
      'rights_of_one',
      sql`num_nonnulls(${table.mediumId}, ${table.setName}, ${table.lotName}) = 1`,
    ),
    check('rights_day', sql`${table.opensOn} ~ '^(\\d{4}-\\d{2}-\\d{2})?$'`),
    check(
      'rights_restricted',
      sql`${table.isRestricted} or (${table.reason} = '' and ${table.opensOn} = '')`,
    ),
  ],
);

/** What is held may leave once all the same: by whom, for whom, and why; not for long. */
export const permits = pgTable(
  'permits',
  {
    id: serial().primaryKey(),
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    operatorId: integer()
      .notNull()
      .references(() => operators.id),
    recipient: text().notNull(),
    reason: text().notNull(),
    grantedAt: moment('granted_at').notNull().defaultNow(),
    endsAt: moment('ends_at').notNull(),
  },
  (table) => [index().on(table.mediumId), index().on(table.operatorId)],
);
