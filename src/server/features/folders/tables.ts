/** Media and lots that are open as folders, which any program on this computer reads. */
import { sql } from 'drizzle-orm';
import { check, index, integer, pgTable, serial, text } from 'drizzle-orm/pg-core';
import { moment } from '@/server/platform/db/columns';
import { lots, media } from '../media/tables';
import { operators } from '../operators/tables';

/** There is none of what is closed. */
export const openFolders = pgTable(
  'open_folders',
  {
    id: serial().primaryKey(),
    mediumId: integer()
      .unique()
      .references(() => media.id),
    lotName: text()
      .unique()
      .references(() => lots.name, { onUpdate: 'cascade' }),
    /** What leaves by it is theirs to answer for. */
    openedBy: integer()
      .notNull()
      .references(() => operators.id),
    openedAt: moment('opened_at').notNull().defaultNow(),
  },
  (table) => [
    check('open_folders_of_one', sql`num_nonnulls(${table.mediumId}, ${table.lotName}) = 1`),
    index().on(table.openedBy),
  ],
);
