/** Memory cards made for devices that stand in for a drive. */
import { check, integer, jsonb, pgTable, serial, text } from 'drizzle-orm/pg-core';
import type { CardEntry } from '@/core/assembly/memory-card';
import { type ImageKind, IMAGE_KINDS } from '@/core/image/kinds';
import { jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import { operators } from '../operators/tables';

/** An image on a card, as it was when the card was made. */
export interface CardContent extends CardEntry {
  copyId: number;
  kind: ImageKind | null;
  sha256: string;
}

/** Cards that were made for devices that stand in for a drive. */
export const cards = pgTable(
  'cards',
  {
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
    jsonShape: jsonShape(),
  },
  (table) => [check('cards_kind', oneOf(table.kind, IMAGE_KINDS))],
);
