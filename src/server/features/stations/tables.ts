/** Drives of the bench, and their tests with a reference disk. */
import { saidColumn } from '@/server/platform/db/said-column';
import { check, index, integer, jsonb, pgTable, serial, text } from 'drizzle-orm/pg-core';
import type { DriveAbilities } from '@/core/drive-abilities';
import { type MediumForm, MEDIUM_FORMS } from '@/core/medium-form';
import type { SelfTest } from '@/core/reading/analysis/self-test';
import { jsonShape, moment, oneOf } from '@/server/platform/db/columns';
import { type SelfTestState, SELF_TEST_STATES } from '@/server/states';
import { media } from '../media/tables';
import { operators } from '../operators/tables';

export const stations = pgTable(
  'stations',
  {
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
    jsonShape: jsonShape(),
  },
  (table) => [check('stations_form', oneOf(table.form, MEDIUM_FORMS))],
);

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
    now: saidColumn().notNull(),
    result: jsonb().$type<SelfTest>(),
    startedBy: integer()
      .notNull()
      .references(() => operators.id),
    startedAt: moment('started_at').notNull().defaultNow(),
    endedAt: moment('ended_at'),
    jsonShape: jsonShape(),
  },
  (table) => [
    check('self_tests_state', oneOf(table.state, SELF_TEST_STATES)),
    index().on(table.stationId),
  ],
);
