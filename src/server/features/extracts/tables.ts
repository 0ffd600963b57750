/** Files of many media taken out at once. */
import { saidColumn } from '@/server/platform/db/said-column';
import {
  boolean,
  check,
  index,
  integer,
  jsonb,
  pgTable,
  serial,
  text,
  uuid,
} from 'drizzle-orm/pg-core';
import { jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import {
  type ExtractContent,
  type ExtractState,
  EXTRACT_CONTENTS,
  EXTRACT_STATES,
} from '@/server/states';
import { blobs } from '@/server/platform/blobs/tables';
import { operators } from '../operators/tables';

/** Files of many media taken out at once, as one ZIP. */
export const extracts = pgTable(
  'extracts',
  {
    id: serial().primaryKey(),
    fairCopyIds: jsonb().$type<number[]>().notNull(),
    /** Their files, their images with the cards, or their sounds. */
    what: text().$type<ExtractContent>().notNull().default('files'),
    /** Images are packed so that they can be read where they lie, sounds as FLAC. */
    packed: boolean().notNull().default(false),
    /** It is one packed image that nothing goes along with, and no ZIP. */
    isAlone: boolean().notNull().default(false),
    /** Of sounds: the files of those that were chosen, by their rows; all where there is none. */
    only: integer().array(),
    /** Of sounds: what is the same is written once. */
    isOnce: boolean().notNull().default(false),
    /** Texts and listings beside the files, in UTF-8. */
    asText: boolean().notNull().default(false),
    /** A person was told that some are in quarantine, and takes them too. */
    acknowledgesQuarantine: boolean().notNull().default(false),
    state: text().$type<ExtractState>().notNull(),
    /** One sentence. */
    now: saidColumn().notNull(),
    filesDone: integer().notNull().default(0),
    filesInAll: integer().notNull().default(0),
    cancelled: boolean().notNull().default(false),
    blobId: uuid().references(() => blobs.id),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('extracts_what', oneOf(table.what, EXTRACT_CONTENTS)),
    check('extracts_state', oneOf(table.state, EXTRACT_STATES)),
    index().on(table.state),
    index().on(table.blobId),
  ],
);
