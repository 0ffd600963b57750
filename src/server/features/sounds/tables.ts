/** Sounds of everything kept, to be searched and held against one another. */
import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  index,
  integer,
  jsonb,
  pgTable,
  real,
  serial,
  smallint,
  text,
  unique,
} from 'drizzle-orm/pg-core';
import type { ListedSample } from '@/core/sound/listed-sounds';
import type { RawSettings } from '@/core/sound/raw-sound';
import { jsonShape, moment } from '@/server/platform/db/columns';
import { fairCopies, files } from '../copies/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';

export const MOST_RATE = 1_000_000;

/**
 * Samples of a fair copy's volumes, and its files of sound; a job makes them after the copy is stored
 * (`index-sounds.ts`).
 */
export const sounds = pgTable(
  'sounds',
  {
    id: serial().primaryKey(),
    fairCopyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    fileId: integer()
      .notNull()
      .references(() => files.id, { onDelete: 'cascade' }),
    /** Partition and volume, or bank, parted by ` / `. */
    folder: text().notNull(),
    name: text().notNull(),
    /** Both in small letters. */
    described: text()
      .notNull()
      .generatedAlwaysAs(sql`lower(name || ' ' || folder)`),
    seconds: real().notNull(),
    rateHz: integer().notNull(),
    rootNote: smallint(),
    isLooped: boolean().notNull(),
    /** Of its frames; null where they are not all there. */
    pcmSha256: text(),
    /** A sample as the list of its copy has it; null of a file that is a sound itself. */
    listed: jsonb().$type<ListedSample>(),
    jsonShape: jsonShape(),
  },
  (table) => [
    index().on(table.fairCopyId),
    index().on(table.pcmSha256),
    index().on(table.seconds),
    index('sounds_described').using('gin', sql`${table.described} gin_trgm_ops`),
  ],
);

/** At which rate the sounds of a medium that does not say it are taken: as a person set it last. */
export const soundRates = pgTable(
  'sound_rates',
  {
    mediumId: integer()
      .primaryKey()
      .references(() => media.id),
    rateHz: integer().notNull(),
    setBy: integer()
      .notNull()
      .references(() => operators.id),
    setAt: moment('set_at').notNull().defaultNow(),
  },
  (table) => [
    check('sound_rates_rate', sql`${table.rateHz} between 1 and ${sql.raw(String(MOST_RATE))}`),
  ],
);

/** How a file, or a stretch of an image, sounds that nothing says it of: as a person set it last. */
export const rawHearings = pgTable(
  'raw_hearings',
  {
    id: serial().primaryKey(),
    fairCopyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    /** Null of a stretch of the image. */
    fileId: integer().references(() => files.id, { onDelete: 'cascade' }),
    /** Of the image; 0 of a file, which is meant whole. */
    from: bigint({ mode: 'number' }).notNull(),
    length: bigint({ mode: 'number' }).notNull(),
    settings: jsonb().$type<RawSettings>().notNull(),
    setBy: integer()
      .notNull()
      .references(() => operators.id),
    setAt: moment('set_at').notNull().defaultNow(),
    jsonShape: jsonShape(),
  },
  (table) => [
    unique('raw_hearings_place')
      .on(table.fairCopyId, table.fileId, table.from, table.length)
      .nullsNotDistinct(),
  ],
);
