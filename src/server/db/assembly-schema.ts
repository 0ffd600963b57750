/** What is stored of assemblies and of cards; declared once, as all of `schema.ts`. */
import { index, integer, jsonb, pgTable, serial, text } from 'drizzle-orm/pg-core';
import type { CardEntry } from '@/core/assembly/card';
import type { Edit } from '@/core/assembly/edits';
import type { ImageKind } from '@/core/image/kinds';
import { moment } from './columns';
import { fairCopies, operators } from './schema';

/** An image on a card, as it was when the card was made. */
export interface CardContent extends CardEntry {
  copyId: number;
  kind: ImageKind | null;
  sha256: string;
}

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
    /** The image that it was settled as, once it was. */
    copyId: integer().references(() => fairCopies.id),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    changedAt: moment('changed_at').notNull().defaultNow(),
  },
  (table) => [index().on(table.copyId)],
);

/** Cards that were made for devices that stand in for a drive. */
export const cards = pgTable('cards', {
  id: serial().primaryKey(),
  title: text().notNull(),
  /** The device's limits, by their profile. */
  profile: text().notNull(),
  /** What each image is written as, where its layout has that kind; null leaves each as it is. */
  kind: text().$type<ImageKind>(),
  /**
   * The archivist's own settings file: its name on the card and its text, filled in when the card
   * is made.
   */
  settingsName: text().notNull().default(''),
  template: text().notNull().default(''),
  images: jsonb().$type<CardContent[]>().notNull(),
  madeBy: integer()
    .notNull()
    .references(() => operators.id),
  madeAt: moment('made_at').notNull().defaultNow(),
});
