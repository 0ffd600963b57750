/** What is stored, declared once; every other type of these rows is inferred from here. */
import { sql } from 'drizzle-orm';
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
import type { Problem } from '@/core/problems';
import type { ConditionMark, RecordedSide } from '@/core/condition';
import type { RecoverySetting } from '@/core/encoding';
import {
  DEFAULT_POLICY,
  type ReadingPolicy,
  type Sweep,
  type TrackProgress,
} from '@/core/reading/plan';
import type { SelfTest } from '@/core/reading/self-test';
import type { ToldTrack } from '@/core/reading/told';
import type { Preview } from '@/core/reading/preview';
import type { Tally } from '@/core/reading/grades';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { Card } from '@/core/image/card';
import type { Layout } from '@/core/layout/layout';
import type { ViewName } from '@/core/volume/disc-volume';
import type { Extent } from '@/core/volume/volume';
import type { BlockMedium } from '@/core/block/device';
import type { DeviceFinding } from '@/core/block/verdict';
import type { BlockPolicy } from '@/core/block/salvage-plan';
import type { Density, MediumForm } from '@/core/medium-form';

import type { DriveAbilities } from '@/core/drive-abilities';
import type {
  AttachmentType,
  BlobState,
  BlocksKept,
  BlockPreview,
  BlocksReturned,
  DeviceOrigin,
  JobKind,
  JobState,
  LayoutEvidence,
  LedgerKind,
  Likeness,
  Outcome,
  RelationKind,
  ReturnSource,
  ReturnState,
  SelfTestState,
  SittingState,
  TargetFound,
  Verdict,
} from '../states';
import { bytea, moment, tsvector } from './columns';

export const operators = pgTable('operators', {
  id: serial().primaryKey(),
  name: text().notNull().unique(),
});

export const media = pgTable('media', {
  id: serial().primaryKey(),
  code: text().notNull().unique(),
  form: text().$type<MediumForm>().notNull(),
  title: text().notNull(),
  /** What is written on it, as it stands there. */
  labelText: text().notNull(),
  lender: text().notNull(),
  lot: text().notNull(),
  condition: text().notNull(),
  /** A blank of ours, which may be written; anything else is an original and never is. */
  isBlank: boolean().notNull().default(false),
  /** Of a blank floppy: what it is made for; null where that is not known. */
  density: text().$type<Density>(),
  marks: jsonb().$type<ConditionMark[]>().notNull().default([]),
  /** Not to be read before treatment. */
  treatFirst: boolean().notNull().default(false),
  writeProtected: boolean().notNull().default(false),
  /** A disk of ours with known content, which drives are tested with; never written. */
  isReference: boolean().notNull().default(false),
  recordedSide: text().$type<RecordedSide>().notNull().default('not-said'),
  /** Of a hard disk: the machine it was in, its jumpers, notes. */
  origin: jsonb().$type<DeviceOrigin>(),
  /** What it belongs to, and its place there. */
  setName: text().notNull().default(''),
  setNumber: integer(),
  registeredAt: moment('registered_at').notNull().defaultNow(),
  registeredBy: integer()
    .notNull()
    .references(() => operators.id),
});

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
  (table) => [primaryKey({ columns: [table.mediumId, table.otherId] }), index().on(table.otherId)],
);

/** Media that came together, from whom, until when, and how they are to be read. */
export const lots = pgTable('lots', {
  name: text().primaryKey(),
  lender: text().notNull().default(''),
  /** Days, `1996-05-12`; empty where not known. */
  cameIn: text().notNull().default(''),
  returnBy: text().notNull().default(''),
  /** Turns of the first reading of a track, and most readings of one. */
  revolutions: integer().notNull().default(DEFAULT_POLICY.revolutions),
  tries: integer().notNull().default(DEFAULT_POLICY.tries),
  sweep: text().$type<Sweep>().notNull().default('inward'),
  gentle: boolean().notNull().default(false),
});

/** Media that belong together; some may be missing. */
export const sets = pgTable('sets', {
  name: text().primaryKey(),
  /** How many it should have; null where that is not known. */
  members: integer(),
});

/** Photos, scans and papers of a medium or of a whole set. */
export const attachments = pgTable(
  'attachments',
  {
    id: serial().primaryKey(),
    mediumId: integer().references(() => media.id),
    setName: text().references(() => sets.name),
    name: text().notNull(),
    /** By content, never by name. */
    type: text().$type<AttachmentType>().notNull(),
    blobId: uuid()
      .notNull()
      .references(() => blobs.id),
    bytes: integer().notNull(),
    sha256: text().notNull(),
    addedBy: integer()
      .notNull()
      .references(() => operators.id),
    addedAt: moment('added_at').notNull().defaultNow(),
  },
  (table) => [index().on(table.mediumId), index().on(table.setName)],
);

export const stations = pgTable('stations', {
  id: integer().primaryKey(),
  drive: text().notNull(),
  form: text().$type<MediumForm>().notNull(),
  /** What the drive said of itself when it was last asked. */
  model: text().notNull(),
  serial: text().notNull(),
  mediumId: integer()
    .references(() => media.id)
    .unique(),
  /** What the drive can do, as it said itself. */
  abilities: jsonb().$type<DriveAbilities>(),
  readingsSinceCleaning: integer().notNull().default(0),
  /** Of these, readings of media that leave dirt. */
  sheddingSinceCleaning: integer().notNull().default(0),
  /** When a scanned label confirmed that the medium in it is the one meant. */
  confirmedAt: moment('confirmed_at'),
});

/** A drive tried with a reference disk. */
export const selfTests = pgTable(
  'self_tests',
  {
    id: serial().primaryKey(),
    stationId: integer()
      .notNull()
      .references(() => stations.id),
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    state: text().$type<SelfTestState>().notNull(),
    now: text().notNull(),
    result: jsonb().$type<SelfTest>(),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
  },
  (table) => [index().on(table.stationId)],
);

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
    trouble: text(),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
  },
  (table) => [index().on(table.stationId)],
);

export const blobs = pgTable(
  'blobs',
  {
    id: uuid().primaryKey().defaultRandom(),
    state: text().$type<BlobState>().notNull(),
    size: bigint({ mode: 'number' }).notNull().default(0),
    /** Written anywhere, not only at its end: chunks that were never written are zeros. */
    sparse: boolean().notNull().default(false),
    /** Hexadecimal; null until sealed. */
    sha256: text(),
    /** The blob that already held the same bytes when this one was sealed. */
    sameAs: uuid(),
  },
  (table) => [index().on(table.sha256)],
);

export const blobChunks = pgTable(
  'blob_chunks',
  {
    blobId: uuid()
      .notNull()
      .references(() => blobs.id),
    seq: integer().notNull(),
    bytes: bytea().notNull(),
  },
  (table) => [primaryKey({ columns: [table.blobId, table.seq] })],
);

export const jobs = pgTable(
  'jobs',
  {
    id: uuid().primaryKey().defaultRandom(),
    kind: text().$type<JobKind>().notNull(),
    /** Row of the sitting or return that it works on. */
    subject: integer().notNull(),
    stationId: integer().references(() => stations.id),
    state: text().$type<JobState>().notNull(),
    /** Counts the workers that took it; one that was thought dead finds that it changed. */
    epoch: integer().notNull().default(0),
    error: text(),
    createdAt: moment('created_at').notNull().defaultNow(),
  },
  (table) => [index().on(table.state)],
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
    now: text().notNull(),
    /** What a person asked for while it runs. */
    wanted: text().$type<'pause' | 'stop'>(),
    policy: jsonb().$type<ReadingPolicy>().notNull(),
    /** Goes on after the first tracks without asking. */
    unattended: boolean().notNull().default(true),
    /** What the first tracks showed. */
    preview: jsonb().$type<Preview>(),
    layout: text(),
    /** The medium in the holdings that it is like so far. */
    likeness: jsonb().$type<Likeness>(),
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
  },
  (table) => [index().on(table.mediumId), index().on(table.stationId)],
);

/** What a drive that delivers no flux said of a track, with the bytes that it gave. */
export const toldTracks = pgTable(
  'told_tracks',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    sittingId: integer()
      .notNull()
      .references(() => sittings.id),
    cylinder: integer().notNull(),
    head: integer().notNull(),
    pass: integer().notNull(),
    told: jsonb().$type<Omit<ToldTrack, 'data'>>().notNull(),
    data: bytea().notNull(),
    at: moment('at').notNull().defaultNow(),
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
  },
  (table) => [primaryKey({ columns: [table.sittingId, table.cylinder, table.head] })],
);

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
    strange: jsonb().$type<Card['strange']>(),
    imageBlob: uuid()
      .notNull()
      .references(() => blobs.id),
    cardBlob: uuid().references(() => blobs.id),
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
    /** What was found on it where it looked empty. */
    finding: jsonb().$type<DeviceFinding>(),
    /** Surface as settled: marks by track. */
    surface:
      jsonb().$type<{ cylinder: number; head: number; tries?: number; sectors: SectorMark[] }[]>(),
    madeBy: integer()
      .notNull()
      .references(() => operators.id),
    madeAt: moment('made_at').notNull().defaultNow(),
  },
  (table) => [index().on(table.mediumId), index().on(table.imageSha256)],
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
    reasons: jsonb().$type<string[]>().notNull(),
    problems: jsonb().$type<Problem[]>().notNull(),
  },
  (table) => [index().on(table.fairCopyId)],
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
  },
  (table) => [
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

export const returns = pgTable('returns', {
  id: serial().primaryKey(),
  fairCopyId: integer()
    .notNull()
    .references(() => fairCopies.id),
  targetId: integer()
    .notNull()
    .references(() => media.id),
  /** Whether the image is laid out anew, or the capture's own flux goes back. */
  from: text().$type<ReturnSource>().notNull().default('image'),
  stationId: integer()
    .notNull()
    .references(() => stations.id),
  state: text().$type<ReturnState>().notNull(),
  now: text().notNull(),
  /** Family of machines that it is meant for, by its profile; null where none was chosen. */
  machine: text(),
  /** Transitions of the inner tracks are laid down nearer than they are to come back. */
  precompensate: boolean().notNull().default(true),
  /** What was on the target when it was looked at. */
  found: jsonb().$type<TargetFound>(),
  /** Of devices of blocks. */
  blocks: jsonb().$type<BlocksReturned>(),
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
});

/** Returns that wait for the next blank in a station, first come first. */
export const returnQueue = pgTable(
  'return_queue',
  {
    id: serial().primaryKey(),
    fairCopyId: integer()
      .notNull()
      .references(() => fairCopies.id),
    stationId: integer()
      .notNull()
      .references(() => stations.id),
    from: text().$type<ReturnSource>().notNull().default('image'),
    machine: text(),
    precompensate: boolean().notNull().default(true),
    /** Why the blank that came could not be taken; null where none came. */
    trouble: text(),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    at: moment('at').notNull().defaultNow(),
  },
  (table) => [index().on(table.stationId)],
);

/** Layouts that archivists added; those that ship are in the code. */
export const layouts = pgTable('layouts', {
  id: text().primaryKey(),
  /** As imported and exported (`core/layout/schema.ts`). */
  file: jsonb().$type<Record<string, unknown>>().notNull(),
  addedBy: integer()
    .notNull()
    .references(() => operators.id),
  addedAt: moment('added_at').notNull().defaultNow(),
});

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
  (table) => [primaryKey({ columns: [table.mediumId, table.cylinder, table.head, table.r] })],
);

/**
 * A recovery setting that a person found better for one track, and keeps; every settling tries it.
 */
export const keptSettings = pgTable(
  'kept_settings',
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
  },
  (table) => [primaryKey({ columns: [table.mediumId, table.cylinder, table.head] })],
);

/** One track of a return, once it was written and read back. */
export const returnTracks = pgTable(
  'return_tracks',
  {
    returnId: integer()
      .notNull()
      .references(() => returns.id),
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
  },
  (table) => [primaryKey({ columns: [table.returnId, table.cylinder, table.head] })],
);

export const ledger = pgTable(
  'ledger',
  {
    id: bigserial({ mode: 'number' }).primaryKey(),
    at: moment('at').notNull().defaultNow(),
    operatorId: integer()
      .notNull()
      .references(() => operators.id),
    kind: text().$type<LedgerKind>().notNull(),
    mediumId: integer().references(() => media.id),
    stationId: integer().references(() => stations.id),
    sittingId: integer().references(() => sittings.id),
    returnId: integer().references(() => returns.id),
    /** One sentence. */
    what: text().notNull(),
  },
  (table) => [index().on(table.mediumId), index().on(table.sittingId)],
);
