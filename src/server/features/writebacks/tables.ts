/** Images written to media, and those that wait for a blank. */
import { saidColumn } from '@/server/platform/db/said-column';
import { sql } from 'drizzle-orm';
import {
  boolean,
  check,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  real,
  serial,
  text,
} from 'drizzle-orm/pg-core';
import type { SectorMark } from '@/core/reading/sector-mark';
import { bytea, jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import {
  type BlocksWritten,
  type Outcome,
  type TargetFound,
  type WritebackSource,
  type WritebackState,
  WRITEBACK_SOURCES,
  WRITEBACK_STATES,
  OUTCOMES,
} from '@/server/states';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { stations } from '../stations/tables';

export const writebacks = pgTable(
  'writebacks',
  {
    id: serial().primaryKey(),
    fairCopyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    targetId: integer()
      .notNull()
      .references(() => media.id),
    /** Whether the image is laid out anew, or the capture's own flux goes back. */
    from: text().$type<WritebackSource>().notNull().default('image'),
    stationId: integer()
      .notNull()
      .references(() => stations.id),
    state: text().$type<WritebackState>().notNull(),
    now: saidColumn().notNull(),
    /** Family of machines that it is meant for, by its profile; null where none was chosen. */
    machine: text(),
    /** Transitions of the inner tracks are laid down nearer than they are to come back. */
    precompensate: boolean().notNull().default(true),
    /** What was on the target when it was looked at. */
    found: jsonb().$type<TargetFound>(),
    /** Of devices of blocks. */
    blocks: jsonb().$type<BlocksWritten>(),
    /** A person no longer wants it. */
    cancelled: boolean().notNull().default(false),
    /** How the disk did in the old machine; null until somebody says. */
    outcome: text().$type<Outcome>(),
    outcomeNote: text().notNull().default(''),
    outcomeBy: integer().references(() => operators.id),
    outcomeAt: moment('outcome_at'),
    /** Set by a person who typed the target's code after being told what is on it. */
    overwrite: boolean().notNull().default(false),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('writebacks_from', oneOf(table.from, WRITEBACK_SOURCES)),
    check('writebacks_state', oneOf(table.state, WRITEBACK_STATES)),
    check('writebacks_outcome', oneOf(table.outcome, OUTCOMES)),
    index().on(table.fairCopyId),
    index().on(table.targetId),
    index().on(table.stationId),
    index('writebacks_open')
      .on(table.state)
      .where(sql`${table.state} in ('waiting', 'writing', 'held', 'asks')`),
  ],
);

/** Write-backs that wait for the next blank in a station, first come first. */
export const writebackQueue = pgTable(
  'writeback_queue',
  {
    id: serial().primaryKey(),
    fairCopyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    stationId: integer()
      .notNull()
      .references(() => stations.id),
    from: text().$type<WritebackSource>().notNull().default('image'),
    machine: text(),
    precompensate: boolean().notNull().default(true),
    /** Why the blank that came could not be taken; null where none came. */
    trouble: saidColumn(),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    at: moment('at').notNull().defaultNow(),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('writeback_queue_from', oneOf(table.from, WRITEBACK_SOURCES)),
    index().on(table.fairCopyId),
    index().on(table.stationId),
  ],
);

/** One track of a write-back, once it was written and read back. */
export const writebackTracks = pgTable(
  'writeback_tracks',
  {
    writebackId: integer()
      .notNull()
      .references(() => writebacks.id),
    cylinder: integer().notNull(),
    head: integer().notNull(),
    proved: boolean().notNull(),
    tries: integer().notNull(),
    /**
     * Root mean square of the transitions' distance from their raster when it was read back, in
     * cells.
     */
    spread: real(),
    sectors: jsonb().$type<SectorMark[]>().notNull(),
    jsonShape: jsonShape(),
  },
  (table) => [primaryKey({ columns: [table.writebackId, table.cylinder, table.head] })],
);

/**
 * Certificates as they were given: the very bytes, which never change. The first edition is sealed
 * with the proof; another follows when it is told how the disk did in the old machine.
 */
export const certificates = pgTable(
  'certificates',
  {
    writebackId: integer()
      .notNull()
      .references(() => writebacks.id),
    edition: integer().notNull(),
    json: bytea().notNull(),
    jsonSha256: text().notNull(),
    pdf: bytea().notNull(),
    pdfSha256: text().notNull(),
    sealedAt: moment('sealed_at').notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.writebackId, table.edition] })],
);
