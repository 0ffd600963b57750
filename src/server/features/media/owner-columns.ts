/** Columns of what is said of one medium, of one set or of one lot, which each say it once. */
import { integer, text } from 'drizzle-orm/pg-core';
import { lots, media, sets } from './tables';

export const ownerColumns = () => ({
  mediumId: integer()
    .unique()
    .references(() => media.id),
  setName: text()
    .unique()
    .references(() => sets.name, { onUpdate: 'cascade' }),
  lotName: text()
    .unique()
    .references(() => lots.name, { onUpdate: 'cascade' }),
});
