/**
 * What is stored of devices that are read block by block, and of files on their way in and out;
 * declared once, as all of `schema.ts`.
 */
import {
  bigint,
  bigserial,
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  real,
  serial,
  text,
  uuid,
} from 'drizzle-orm/pg-core';
import type { Pace } from '@/core/block/extent-map';
import type { Grade } from '@/core/reading/grades';
import type { ExtractContent, ExtractState, UploadAbout, UploadState } from '../states';
import { moment } from './columns';
import { blobs, operators, sittings } from './schema';

/**
 * What is known of a device's blocks in a sitting, as runs that are alike; blocks in none are
 * unread.
 */
export const blockExtents = pgTable(
  'block_extents',
  {
    sittingId: integer()
      .notNull()
      .references(() => sittings.id),
    from: bigint({ mode: 'number' }).notNull(),
    /** The first block behind it. */
    to: bigint({ mode: 'number' }).notNull(),
    grade: text().$type<Grade>().notNull(),
    tries: integer().notNull(),
    group: bigint({ mode: 'number' }).notNull(),
    pace: integer().$type<Pace>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.sittingId, table.from] })],
);

/** One request to a device, as it came out. */
export const blockReadings = pgTable(
  'block_readings',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    sittingId: integer()
      .notNull()
      .references(() => sittings.id),
    from: bigint({ mode: 'number' }).notNull(),
    count: integer().notNull(),
    got: integer().notNull(),
    pass: integer().notNull(),
    speed: real(),
    ms: real().notNull(),
    at: moment('at').notNull().defaultNow(),
  },
  (table) => [index().on(table.sittingId, table.from)],
);

/** A file on its way in, part by part; a worker takes it in once it is whole. */
export const uploads = pgTable('uploads', {
  id: uuid().primaryKey().defaultRandom(),
  /** What jobs know it by. */
  number: serial().notNull().unique(),
  blobId: uuid().references(() => blobs.id),
  name: text().notNull(),
  size: bigint({ mode: 'number' }).notNull(),
  about: jsonb().$type<UploadAbout>().notNull(),
  state: text().$type<UploadState>().notNull(),
  /** One sentence, once it is known. */
  now: text().notNull().default(''),
  /** The medium that it became. */
  code: text(),
  startedBy: integer()
    .notNull()
    .references(() => operators.id),
  startedAt: moment('started_at').notNull().defaultNow(),
});

/** Files of many media taken out at once, as one ZIP. */
export const extracts = pgTable('extracts', {
  id: serial().primaryKey(),
  fairCopyIds: jsonb().$type<number[]>().notNull(),
  /** Their files, or their images with the cards. */
  what: text().$type<ExtractContent>().notNull().default('files'),
  /** Images are packed so that they can be read where they lie. */
  packed: boolean().notNull().default(false),
  /** Texts and listings beside the files, in UTF-8. */
  asText: boolean().notNull().default(false),
  /** A person was told that some are in quarantine, and takes them too. */
  knowing: boolean().notNull().default(false),
  state: text().$type<ExtractState>().notNull(),
  /** One sentence. */
  now: text().notNull(),
  filesDone: integer().notNull().default(0),
  filesInAll: integer().notNull().default(0),
  cancelled: boolean().notNull().default(false),
  blobId: uuid().references(() => blobs.id),
  startedBy: integer()
    .notNull()
    .references(() => operators.id),
  startedAt: moment('started_at').notNull().defaultNow(),
  endedAt: moment('ended_at'),
});
