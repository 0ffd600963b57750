/** Who works here. */
import { pgTable, serial, text } from 'drizzle-orm/pg-core';

export const operators = pgTable('operators', {
  id: serial().primaryKey(),
  name: text().notNull().unique(),
});
