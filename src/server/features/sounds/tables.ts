/** Sounds of everything kept, to be searched and held against one another. */
import { sql } from 'drizzle-orm';
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  real,
  serial,
  smallint,
  text,
} from 'drizzle-orm/pg-core';
import type { ListedSample } from '@/core/sound/listed-sounds';
import { jsonShape } from '@/server/platform/db/columns';
import { fairCopies, files } from '../copies/tables';

/** Samples of a fair copy's volumes; a job makes them after the copy is stored (`index-sounds.ts`). */
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
    /** As the list of its copy has it. */
    listed: jsonb().$type<ListedSample>().notNull(),
    jsonShape: jsonShape(),
  },
  (table) => [
    index().on(table.fairCopyId),
    index().on(table.pcmSha256),
    index().on(table.seconds),
    index('sounds_described').using('gin', sql`${table.described} gin_trgm_ops`),
  ],
);
