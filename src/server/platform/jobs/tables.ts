/** Long work, a row each, and the workers that do it. */
import { sql } from 'drizzle-orm';
import {
  check,
  index,
  integer,
  jsonb,
  pgTable,
  text,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import { JOB_KINDS, JOB_STATES, type JobKind, type JobState } from './kinds';

/** Workers that were heard of; one that is silent for long loses its jobs to another. */
export const workers = pgTable('workers', {
  id: uuid().primaryKey(),
  /** The machine as it was booted: there, and only there, its process can be looked for. */
  host: text().notNull(),
  pid: integer().notNull(),
  startedAt: moment('started_at').notNull().defaultNow(),
  heartbeatAt: moment('heartbeat_at').notNull().defaultNow(),
});

export const jobs = pgTable(
  'jobs',
  {
    id: uuid().primaryKey().defaultRandom(),
    kind: text().$type<JobKind>().notNull(),
    /** What it was asked with, by the schema of its kind (`kinds.ts`). */
    payload: jsonb().$type<Record<string, number>>().notNull(),
    /** The row that it works on: the one number of its payload. */
    subject: integer().notNull(),
    /** What only one job may use at a time, `station:3`; null where nothing is used alone. */
    resource: text(),
    /** The operator who asked; one who asks for much does not make others wait. */
    askedBy: integer(),
    state: text().$type<JobState>().notNull(),
    /** Counts the workers that took it; one that was thought dead finds that it changed. */
    epoch: integer().notNull().default(0),
    /** Workers that died while they had it. */
    crashes: integer().notNull().default(0),
    /** Who does it; null while nobody does. */
    workerId: uuid().references(() => workers.id, { onDelete: 'set null' }),
    error: text(),
    createdAt: moment('created_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('jobs_kind', oneOf(table.kind, JOB_KINDS)),
    check('jobs_state', oneOf(table.state, JOB_STATES)),
    index('jobs_open')
      .on(table.createdAt)
      .where(sql`${table.state} in ('waiting', 'running')`),
    index('jobs_by_subject').on(table.kind, table.subject),
    uniqueIndex('jobs_alone')
      .on(table.resource)
      .where(sql`${table.state} = 'running'`),
    index('jobs_ended').on(table.endedAt),
    index('jobs_by_worker').on(table.workerId),
  ],
);
