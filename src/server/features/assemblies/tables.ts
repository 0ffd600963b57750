/** Volumes taking shape. */
import { index, integer, jsonb, pgTable, serial, text } from 'drizzle-orm/pg-core';
import type { Edit } from '@/core/assembly/edits';
import type { Said } from '@/core/said';
import { jsonShape, moment } from '@/server/platform/db/columns';
import { fairCopies } from '../copies/tables';
import { operators } from '../operators/tables';

/** A volume taking shape: what it began with, and what was done to it since. */
export const assemblies = pgTable(
  'assemblies',
  {
    id: serial().primaryKey(),
    title: text().notNull(),
    /** Its id among the blank volumes; null where it began with an image. */
    kind: text(),
    label: text().notNull().default(''),
    /** The image that it began with, which stays as it is; null of a blank. */
    baseId: integer().references(() => fairCopies.id),
    /**
     * What was done, in order; of these the first `done` count, the others were undone and can be
     * done again.
     */
    edits: jsonb().$type<Edit[]>().notNull().default([]),
    done: integer().notNull().default(0),
    /** The machine that is to read it, by its profile; null where none was chosen. */
    target: text(),
    /** Who asked for it to be settled; null until then, and where that failed. */
    settledBy: integer().references(() => operators.id),
    /** Why it could not be settled when that was asked last. */
    trouble: jsonb().$type<Said>(),
    /** The image that it was settled as, once it was. */
    copyId: integer().references(() => fairCopies.id),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    changedAt: moment('changed_at').notNull().defaultNow(),
    jsonShape: jsonShape(),
  },
  (table) => [index().on(table.baseId), index().on(table.copyId)],
);
