/** Fair copies, what volumes and files are on them, and what a person said of them. */
import { saidColumn } from '@/server/platform/db/said-column';
import type { Said } from '@/core/said';
import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  check,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  serial,
  text,
  uuid,
} from 'drizzle-orm/pg-core';
import type { Doubts } from '@/core/block/image-doubts';
import type { DeviceFinding } from '@/core/block/verdict';
import type { RecoverySetting } from '@/core/encoding';
import type { CaptureDecode } from '@/core/reading/decode/decode-capture';
import type { Layout } from '@/core/layout/layout';
import type { Problem } from '@/core/problems';
import type { Tally } from '@/core/reading/grades';
import type { SectorMark } from '@/core/reading/sector-mark';
import { type ViewName, VIEW_NAMES } from '@/core/volume/disc-volume';
import type { Extent } from '@/core/volume/volume';
import { jsonShape, moment, oneOf, tsvector } from '@/server/platform/db/columns';
import {
  type BlocksKept,
  type LayoutEvidence,
  SETTLING_CAUSES,
  SETTLING_STATES,
  type SettlingAbout,
  type SettlingCause,
  type SettlingProgress,
  type SettlingState,
  type Verdict,
  VERDICTS,
} from '@/server/states';
import { blobs } from '@/server/platform/blobs/tables';
import { media } from '../media/tables';
import { operators } from '../operators/tables';

export const fairCopies = pgTable(
  'fair_copies',
  {
    id: serial().primaryKey(),
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    /** Where its bytes come from. */
    source: text().$type<'sitting' | 'upload' | 'assembly'>().notNull(),
    /** Name of the uploaded file, as it was called. */
    sourceName: text(),
    /** A layout's id, or `proposed` for the one in `proposal`. */
    layout: text(),
    /** Layout worked out from the capture where none that is known fits. */
    proposal: jsonb().$type<Layout>(),
    /** What speaks for which layout, best first. */
    matches: jsonb().$type<LayoutEvidence[]>(),
    /** Tracks that hold something else than the layout has there. */
    strange: jsonb().$type<CaptureDecode['strange']>(),
    imageBlob: uuid()
      .notNull()
      .references(() => blobs.id),
    sidecarBlob: uuid().references(() => blobs.id),
    captureBlob: uuid().references(() => blobs.id),
    imageSha256: text().notNull(),
    imageBytes: bigint({ mode: 'number' }).notNull(),
    tally: jsonb().$type<Tally>(),
    problems: jsonb().$type<Problem[]>().notNull(),
    /**
     * Of a device that was read block by block, or an image of one: what every block is, and what
     * the disc says of itself.
     */
    blocks: jsonb().$type<BlocksKept>(),
    /** Where in its image no sound reading supplied the bytes; null of copies kept before. */
    inDoubt: jsonb().$type<Doubts>(),
    /** What was found on it where it looked empty. */
    finding: jsonb().$type<DeviceFinding>(),
    /** Surface as settled: marks by track. */
    surface:
      jsonb().$type<{ cylinder: number; head: number; tries?: number; sectors: SectorMark[] }[]>(),
    madeBy: integer()
      .notNull()
      .references(() => operators.id),
    madeAt: moment('made_at').notNull().defaultNow(),
    /** The version that made it; empty of copies from before it was noted. */
    program: text().notNull().default(''),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('fair_copies_source', oneOf(table.source, ['sitting', 'upload', 'assembly'])),
    index().on(table.imageBlob),
    index().on(table.captureBlob),
    index().on(table.sidecarBlob),
    index().on(table.mediumId),
    index().on(table.imageSha256),
  ],
);

/** Tracks of fair copies whose bytes are all sound and tell one disk from another. */
export const trackDigests = pgTable(
  'track_digests',
  {
    fairCopyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    cylinder: integer().notNull(),
    head: integer().notNull(),
    digest: text().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.fairCopyId, table.cylinder, table.head] }),
    index().on(table.digest),
  ],
);

export const volumes = pgTable(
  'volumes',
  {
    id: serial().primaryKey(),
    fairCopyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    filesystem: text().notNull(),
    label: text(),
    partition: integer(),
    /**
     * Path of the file that it is kept in, on another volume of the image; its extents are that
     * volume's all the same.
     */
    inside: text(),
    /**
     * Another directory of the same disc, by its name; null for the one that is listed, searched
     * and taken out.
     */
    view: text().$type<ViewName>(),
    /** Files that are not deleted. */
    fileCount: integer().notNull().default(0),
    offset: bigint({ mode: 'number' }).notNull(),
    length: bigint({ mode: 'number' }).notNull(),
    totalBytes: bigint({ mode: 'number' }).notNull(),
    freeBytes: bigint({ mode: 'number' }).notNull(),
    reasons: jsonb().$type<Said[]>().notNull(),
    problems: jsonb().$type<Problem[]>().notNull(),
    jsonShape: jsonShape(),
  },
  (table) => [check('volumes_view', oneOf(table.view, VIEW_NAMES)), index().on(table.fairCopyId)],
);

export const files = pgTable(
  'files',
  {
    id: serial().primaryKey(),
    volumeId: integer()
      .notNull()
      .references(() => volumes.id),
    /** Place in the volume's own order. */
    position: integer().notNull(),
    path: text().notNull(),
    /** In small letters: compared without regard to case it would be several times slower. */
    pathFolded: text()
      .notNull()
      .generatedAlwaysAs(sql`lower(path)`),
    recordedName: text().notNull(),
    kind: text().$type<'file' | 'directory'>().notNull(),
    /** In its own system's terms: `PRG`, `04`, `T`. */
    type: text(),
    /** What its system notes beside the type: a load address, an auxiliary type. */
    address: integer(),
    /** Where it leads, of a link that is no file. */
    link: text(),
    /** As its own directory gives it: `28 blocks`. */
    ownSize: text(),
    bytes: bigint({ mode: 'number' }).notNull(),
    /** Bytes that its extents hold, where it is packed on its disc. */
    packedBytes: bigint({ mode: 'number' }),
    sha256: text(),
    /** Local time without a zone, as recorded. */
    modified: text(),
    locked: boolean().notNull(),
    deleted: boolean().notNull(),
    recoverable: text().$type<'whole' | 'partial' | 'none'>(),
    damaged: boolean().notNull(),
    extents: jsonb().$type<Extent[]>().notNull(),
    /** Sectors of it that no sound reading supplied. */
    sectorsInDoubt: integer().notNull(),
    /** Where in the file they lie. */
    doubts: jsonb().$type<Extent[]>().notNull().default([]),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('files_kind', oneOf(table.kind, ['file', 'directory'])),
    check('files_recoverable', oneOf(table.recoverable, ['whole', 'partial', 'none'])),

    index().on(table.volumeId),
    index().on(table.sha256),
    index('files_path_trigrams').using('gin', sql`${table.pathFolded} gin_trgm_ops`),
  ],
);

/** Text of files that are text, once for each content; the search looks in it. */
export const fileTexts = pgTable(
  'file_texts',
  {
    sha256: text().primaryKey(),
    body: text().notNull(),
    /** Kept, not worked out again for each text that a search looks at. */
    words: tsvector()
      .notNull()
      .generatedAlwaysAs(sql`to_tsvector('simple', body)`),
  },
  (table) => [index('file_texts_words').using('gin', table.words)],
);

/** What a person said of an oddity that the core proposed as made on purpose. */
export const verdicts = pgTable(
  'verdicts',
  {
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    cylinder: integer().notNull(),
    head: integer().notNull(),
    r: integer().notNull(),
    verdict: text().$type<Verdict>().notNull(),
    what: text().notNull(),
    operatorId: integer()
      .notNull()
      .references(() => operators.id),
    at: moment('at').notNull().defaultNow(),
  },
  (table) => [
    check('verdicts_verdict', oneOf(table.verdict, VERDICTS)),
    primaryKey({ columns: [table.mediumId, table.cylinder, table.head, table.r] }),
  ],
);

/**
 * A recovery setting that a person found better for one track, and keeps; every settling tries it.
 */
export const trackOverrides = pgTable(
  'track_overrides',
  {
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    cylinder: integer().notNull(),
    head: integer().notNull(),
    setting: jsonb().$type<RecoverySetting>().notNull(),
    reason: text().notNull(),
    operatorId: integer()
      .notNull()
      .references(() => operators.id),
    at: moment('at').notNull().defaultNow(),
    jsonShape: jsonShape(),
  },
  (table) => [primaryKey({ columns: [table.mediumId, table.cylinder, table.head] })],
);

/** A medium settled once more by what a person said of it; a worker does it. */
export const settlings = pgTable(
  'settlings',
  {
    id: serial().primaryKey(),
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    cause: text().$type<SettlingCause>().notNull(),
    /** The layout, or the track, that the cause speaks of. */
    about: jsonb().$type<SettlingAbout>().notNull(),
    state: text().$type<SettlingState>().notNull(),
    /** How far a long one is. */
    progress: jsonb().$type<SettlingProgress>(),
    /** A person will not wait: what hurts is read by single turns. */
    isHurried: boolean().notNull().default(false),
    /** Why it came to nothing. */
    trouble: saidColumn(),
    operatorId: integer()
      .notNull()
      .references(() => operators.id),
    at: moment('at').notNull().defaultNow(),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('settlings_cause', oneOf(table.cause, SETTLING_CAUSES)),
    check('settlings_state', oneOf(table.state, SETTLING_STATES)),
    index().on(table.mediumId),
  ],
);
