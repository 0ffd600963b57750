/** Layouts that archivists added. */
import { integer, jsonb, pgTable, text } from 'drizzle-orm/pg-core';
import { jsonShape, moment } from '@/server/platform/db/columns';
import { operators } from '../operators/tables';

/** Layouts that archivists added; those that ship are in the code. */
export const layouts = pgTable('layouts', {
  id: text().primaryKey(),
  /** As imported and exported (`core/layout/schema.ts`). */
  file: jsonb().$type<Record<string, unknown>>().notNull(),
  addedBy: integer()
    .notNull()
    .references(() => operators.id),
  addedAt: moment('added_at').notNull().defaultNow(),
  jsonShape: jsonShape(),
});
