/** Sittings, what they read, track by track or block by block, and stacks of media that wait. */
import { saidColumn } from '@/server/platform/db/said-column';
import { sql } from 'drizzle-orm';
import {
  bigint,
  bigserial,
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
  uuid,
} from 'drizzle-orm/pg-core';
import type { BlockMedium } from '@/core/block/device';
import type { Pace } from '@/core/block/extent-map';
import type { BlockPolicy } from '@/core/block/salvage-plan';
import { type Grade, GRADES } from '@/core/reading/grades';
import type { ReadingPolicy, TrackProgress } from '@/core/reading/plan/plan';
import type { Preview } from '@/core/reading/plan/preview';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { ControllerTrack } from '@/core/reading/controller/controller-tracks';
import { bytea, jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import {
  type BlockPreview,
  type DuplicateMatch,
  type SittingState,
  SITTING_STATES,
} from '@/server/states';
import { blobs } from '@/server/platform/blobs/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';
import { stations } from '../stations/tables';

/** Media that are read one after the other at one station. */
export const stacks = pgTable(
  'stacks',
  {
    id: serial().primaryKey(),
    stationId: integer()
      .notNull()
      .references(() => stations.id),
    codes: jsonb().$type<string[]>().notNull(),
    /** Of these, how many were begun. */
    begun: integer().notNull().default(0),
    /** What the drive must show before the next is begun: no disk, then a disk. */
    awaits: text().$type<'out' | 'in'>().notNull(),
    /** Why the disk that is in was not begun with; null where nothing keeps it. */
    trouble: saidColumn(),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('stacks_awaits', oneOf(table.awaits, ['out', 'in'])),
    index('stacks_open')
      .on(table.stationId)
      .where(sql`${table.endedAt} is null`),
    index().on(table.stationId),
  ],
);

export const sittings = pgTable(
  'sittings',
  {
    id: serial().primaryKey(),
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    stationId: integer()
      .notNull()
      .references(() => stations.id),
    state: text().$type<SittingState>().notNull(),
    /** One sentence: what happens now, or why it does not. */
    now: saidColumn().notNull(),
    /** What ended the reading, from when its copy is being settled. */
    endedWhy: saidColumn(),
    /** What a person asked for while it runs. */
    requestedAction: text().$type<'pause' | 'stop' | 'hurry'>(),
    policy: jsonb().$type<ReadingPolicy>().notNull(),
    /** Goes on after the first tracks without asking. */
    unattended: boolean().notNull().default(true),
    /** What the first tracks showed. */
    preview: jsonb().$type<Preview>(),
    layout: text(),
    /** The medium in the holdings that it is like so far. */
    duplicateMatch: jsonb().$type<DuplicateMatch>(),
    /** Steps of the drive from one cylinder of the layout to the next. */
    stepping: integer().$type<1 | 2>().notNull().default(1),
    /**
     * A person went on although the head looked dirty: it is not asked after again in this sitting.
     */
    headAskedAfter: boolean().notNull().default(false),
    /** Everything that was read: a flux container, or the blocks of a device at their places. */
    captureBlob: uuid().references(() => blobs.id),
    /**
     * Of a device that is read block by block: what it is, with its health at the start; how it is
     * read; how it was at the end.
     */
    device: jsonb().$type<BlockMedium>(),
    blockPolicy: jsonb().$type<BlockPolicy>(),
    blockPreview: jsonb().$type<BlockPreview>(),
    healthAfter: jsonb().$type<BlockMedium['health']>(),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('sittings_state', oneOf(table.state, SITTING_STATES)),
    check('sittings_requested_action', oneOf(table.requestedAction, ['pause', 'stop', 'hurry'])),
    index('sittings_open')
      .on(table.stationId)
      .where(sql`${table.endedAt} is null`),
    index().on(table.mediumId),
    index().on(table.stationId),
  ],
);

/** What a drive that delivers no flux said of a track, with the bytes that it gave. */
export const controllerTracks = pgTable(
  'controller_tracks',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    sittingId: integer()
      .notNull()
      .references(() => sittings.id),
    cylinder: integer().notNull(),
    head: integer().notNull(),
    pass: integer().notNull(),
    controller: jsonb().$type<Omit<ControllerTrack, 'data'>>().notNull(),
    data: bytea().notNull(),
    at: moment('at').notNull().defaultNow(),
    jsonShape: jsonShape(),
  },
  (table) => [index().on(table.sittingId, table.cylinder, table.head)],
);

/** One reading of one track: where it lies in the sitting's capture. */
export const trackReadings = pgTable(
  'track_readings',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    sittingId: integer()
      .notNull()
      .references(() => sittings.id),
    cylinder: integer().notNull(),
    head: integer().notNull(),
    pass: integer().notNull(),
    offset: bigint({ mode: 'number' }).notNull(),
    length: integer().notNull(),
    at: moment('at').notNull().defaultNow(),
  },
  (table) => [index().on(table.sittingId, table.cylinder, table.head)],
);

/** What is known of a track in a sitting. */
export const tracks = pgTable(
  'tracks',
  {
    sittingId: integer()
      .notNull()
      .references(() => sittings.id),
    cylinder: integer().notNull(),
    head: integer().notNull(),
    progress: jsonb().$type<TrackProgress>().notNull(),
    sectors: jsonb().$type<SectorMark[]>().notNull(),
    /**
     * Of its bytes, once all are sound: by it a copy of what is held is noticed while it is read.
     */
    digest: text(),
    updatedAt: moment('updated_at').notNull().defaultNow(),
    jsonShape: jsonShape(),
  },
  (table) => [primaryKey({ columns: [table.sittingId, table.cylinder, table.head] })],
);

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
  (table) => [
    check('block_extents_grade', oneOf(table.grade, GRADES)),
    primaryKey({ columns: [table.sittingId, table.from] }),
  ],
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
