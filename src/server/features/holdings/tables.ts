/** What is kept, a row a medium for the search; and what a person settled of media that are alike. */
import { sql } from 'drizzle-orm';
import { check, index, integer, jsonb, pgTable, primaryKey, real, text } from 'drizzle-orm/pg-core';
import { jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import { type RelationKind, RELATION_KINDS } from '@/server/states';
import { fairCopies } from '../copies/tables';
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

/**
 * Two media that share files or most of their tracks, the smaller number first; kept up by a job
 * after each copy (`keep-alike.ts`). Media with the same image are not here.
 */
export const likenesses = pgTable(
  'likenesses',
  {
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    otherId: integer()
      .notNull()
      .references(() => media.id),
    /** Contents that both hold, of how many each, and paths of some on one of them. */
    files: integer().notNull().default(0),
    ofMedium: integer().notNull().default(0),
    ofOther: integer().notNull().default(0),
    examples: text().array().notNull().default([]),
    /** Tracks that are the same, of those that can be compared. */
    tracks: integer().notNull().default(0),
    ofTracks: integer().notNull().default(0),
    /** Shares of both, 0 to 1: what a list is in the order of. */
    fileShare: real().notNull().default(0),
    trackShare: real().notNull().default(0),
  },
  (table) => [
    primaryKey({ columns: [table.mediumId, table.otherId] }),
    check('likenesses_order', sql`${table.mediumId} < ${table.otherId}`),
    index().on(table.otherId),
    index('likenesses_files').on(sql`${table.fileShare} desc`, sql`${table.files} desc`),
    index('likenesses_tracks').on(sql`${table.trackShare} desc`),
  ],
);

/** A volume as a list of what is kept tells it. */
export interface HeldVolume {
  id: number;
  filesystem: string;
  label: string | null;
}

/**
 * What the search needs of every medium that is kept, by its newest copy. Triggers of the database
 * keep it (`refresh_holdings`, migration 0014), whoever changes what it is made of.
 */
export const holdings = pgTable(
  'holdings',
  {
    mediumId: integer()
      .primaryKey()
      .references(() => media.id),
    copyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    code: text().notNull(),
    /** All that is said of it, in small letters. */
    described: text().notNull(),
    sha256: text().notNull(),
    form: text().notNull(),
    layout: text().notNull(),
    lender: text().notNull(),
    lot: text().notNull(),
    filesystems: text().array().notNull(),
    states: text().array().notNull(),
    volumes: jsonb().$type<HeldVolume[]>().notNull(),
    fileCount: integer().notNull(),
    jsonShape: jsonShape(),
  },
  (table) => [
    index().on(table.code),
    index().on(table.copyId),
    index().on(table.sha256),
    index('holdings_described').using('gin', sql`${table.described} gin_trgm_ops`),
  ],
);
