/** Files on their way in. */
import { saidColumn } from '@/server/platform/db/said-column';
import {
  bigint,
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
  type FileKind,
  FILE_KINDS,
  type UploadAbout,
  type UploadState,
  UPLOAD_STATES,
} from '@/server/states';
import { blobs } from '@/server/platform/blobs/tables';
import { operators } from '../operators/tables';

/** A file on its way in, part by part; a worker takes it in once it is whole. */
export const uploads = pgTable(
  'uploads',
  {
    id: uuid().primaryKey().defaultRandom(),
    /** What jobs know it by. */
    number: serial().notNull().unique(),
    blobId: uuid().references(() => blobs.id),
    name: text().notNull(),
    size: bigint({ mode: 'number' }).notNull(),
    about: jsonb().$type<UploadAbout>().notNull(),
    state: text().$type<UploadState>().notNull(),
    /** One sentence, once it is known. */
    now: saidColumn(),
    /** The medium that it became. */
    code: text(),
    /** What it was found to be, once it is taken in. */
    kind: text().$type<FileKind>(),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    /** When the last of it came. */
    cameAt: moment('came_at').notNull().defaultNow(),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('uploads_state', oneOf(table.state, UPLOAD_STATES)),
    check('uploads_kind', oneOf(table.kind, FILE_KINDS)),
    index().on(table.state),
    index().on(table.blobId),
  ],
);
