/** What is registered: media, lots, sets, and the papers beside them. */
import { sql } from 'drizzle-orm';
import {
  type AnyPgColumn,
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
import { type ConditionMark, type RecordedSide, RECORDED_SIDES } from '@/core/condition';
import { type Density, type MediumForm, MEDIUM_FORMS, DENSITIES } from '@/core/medium-form';
import { DEFAULT_POLICY, type Sweep, SWEEPS } from '@/core/reading/plan/plan';
import { jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import { type AttachmentType, type DeviceOrigin, ATTACHMENT_TYPES } from '@/server/states';
import { blobs } from '@/server/platform/blobs/tables';
import { operators } from '../operators/tables';

export const media = pgTable(
  'media',
  {
    id: serial().primaryKey(),
    /** Sorted by the numbers in it (a collation of the migration 0036). */
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
    /** What it was used in, by its name; empty where that is not known. */
    machine: text().notNull().default(''),
    /** Where it stands in the house: a room, a shelf, a box; empty where that is not noted. */
    shelf: text().notNull().default(''),
    /** Of a hard disk: its jumpers, notes. */
    origin: jsonb().$type<DeviceOrigin>(),
    /** What it belongs to, and its place there. */
    setName: text().notNull().default(''),
    setNumber: integer(),
    /** Taken out of the working lists; null of what is in use. */
    withdrawnAt: moment('withdrawn_at'),
    withdrawnReason: text().notNull().default(''),
    /** It was the same medium as that one, which has what was read of both. */
    mergedIntoId: integer().references((): AnyPgColumn => media.id),
    registeredAt: moment('registered_at').notNull().defaultNow(),
    registeredBy: integer()
      .notNull()
      .references(() => operators.id),
    /** The second: a machine is a record of its own, not a part of `origin`. */
    jsonShape: jsonShape(2),
  },
  (table) => [
    check('media_form', oneOf(table.form, MEDIUM_FORMS)),
    check('media_density', oneOf(table.density, DENSITIES)),
    check('media_recorded_side', oneOf(table.recordedSide, RECORDED_SIDES)),
    index().on(table.lot),
    index().on(table.setName),
    index().on(table.registeredBy),
    index().on(table.lender),
    index().on(table.machine),
    index()
      .on(table.mergedIntoId)
      .where(sql`${table.mergedIntoId} is not null`),
    check(
      'media_merged_is_withdrawn',
      sql`${table.mergedIntoId} is null or ${table.withdrawnAt} is not null`,
    ),
  ],
);

/** Codes that media had: their old labels lead to them, and no other medium is given them. */
export const formerCodes = pgTable(
  'former_codes',
  {
    code: text().primaryKey(),
    mediumId: integer()
      .notNull()
      .references(() => media.id),
    until: moment('until').notNull().defaultNow(),
  },
  (table) => [index().on(table.mediumId)],
);

/** Media that came together, from whom, until when, and how they are to be read. */
export const lots = pgTable(
  'lots',
  {
    name: text().primaryKey(),
    lender: text().notNull().default(''),
    /** Days, `1996-05-12`; empty where not known. */
    cameIn: text().notNull().default(''),
    handBackBy: text().notNull().default(''),
    /** Turns of the first reading of a track, and most readings of one. */
    revolutions: integer().notNull().default(DEFAULT_POLICY.revolutions),
    tries: integer().notNull().default(DEFAULT_POLICY.tries),
    sweep: text().$type<Sweep>().notNull().default('inward'),
    gentle: boolean().notNull().default(false),
    /** How its media are numbered, `2024/017/##`; empty where as the newest is. */
    codePattern: text().notNull().default(''),
  },
  (table) => [check('lots_sweep', oneOf(table.sweep, SWEEPS))],
);

/** Media that belong together; some may be missing. */
export const sets = pgTable('sets', {
  name: text().primaryKey(),
  /** How many it should have; null where that is not known. */
  members: integer(),
});

/** From whom media came. */
export const lenders = pgTable('lenders', {
  name: text().primaryKey(),
  /** How to reach them: an address, a telephone, a person. */
  contact: text().notNull().default(''),
  notes: text().notNull().default(''),
});

/** What media were used in. */
export const machines = pgTable('machines', {
  name: text().primaryKey(),
  /** What kind of machine it is. */
  kind: text().notNull().default(''),
  /** What tells it from others: a serial number, a number of an inventory. */
  identifier: text().notNull().default(''),
  notes: text().notNull().default(''),
});

/** Photos, scans and papers of a medium, of a whole set or of a whole lot. */
export const attachments = pgTable(
  'attachments',
  {
    id: serial().primaryKey(),
    mediumId: integer().references(() => media.id),
    setName: text().references(() => sets.name, { onUpdate: 'cascade' }),
    lotName: text().references(() => lots.name, { onUpdate: 'cascade' }),
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
  (table) => [
    check('attachments_type', oneOf(table.type, ATTACHMENT_TYPES)),
    index().on(table.blobId),
    index().on(table.mediumId),
    index().on(table.setName),
    index().on(table.lotName),
  ],
);

/** The highest number given in each numbering of codes, `SKP-#` of `SKP-0104`. */
export const codeSeries = pgTable('code_series', {
  series: text().primaryKey(),
  last: integer().notNull(),
});
