/** What is said of media, of sets and of lots beside what is registered of them. */
import { sql } from 'drizzle-orm';
import { check, index, jsonb, pgTable, serial, text } from 'drizzle-orm/pg-core';
import type { Acquisition } from '@/core/description/acquisition';
import type { Elements } from '@/core/description/elements';
import { jsonShape } from '@/server/platform/db/columns';
import { ownerColumns } from '../media/owner-columns';

/** A row is of one medium, of one set or of one lot. */
export const descriptions = pgTable(
  'descriptions',
  {
    id: serial().primaryKey(),
    ...ownerColumns(),
    elements: jsonb().$type<Elements>().notNull().default({}),
    acquisition: jsonb().$type<Acquisition>(),
    /** All that is said here, in small letters, for the search. */
    words: text().notNull().default(''),
    jsonShape: jsonShape(),
  },
  (table) => [
    check(
      'descriptions_of_one',
      sql`num_nonnulls(${table.mediumId}, ${table.setName}, ${table.lotName}) = 1`,
    ),
    index('descriptions_words').using('gin', sql`${table.words} gin_trgm_ops`),
  ],
);
