/** What is known of sittings: one as it goes on, and those of a medium. */
import { nowTold, tell } from '@/messages/tell';
import { asc, desc, eq, sql, type SQL } from 'drizzle-orm';
import { unionAll } from 'drizzle-orm/pg-core';
import { readingsLeft, tracksOfRange, type Range } from '@/core/reading/plan/plan';
import { tallyTracks } from '@/core/reading/analysis/track-marks';
import type { Executor } from '@/server/platform/db/database';
import { blockReadings } from './tables';
import { media } from '../media/tables';
import { sittings, controllerTracks, trackReadings, tracks } from './tables';
import { stations } from '../stations/tables';
import { notFound } from '@/server/platform/errors';
import { blockViewOf } from './blocks/block-sittings';
import { said } from '@/core/said';

/** What is drawn before it is known how far a medium goes. */
const MAX_CYLINDERS = 80;

/** Readings of sittings, of flux and of what drives told, with when each came. */
function readingsIn(db: Executor, which: SQL) {
  const flux = db
    .select({ sittingId: trackReadings.sittingId, at: trackReadings.at })
    .from(trackReadings)
    .innerJoin(sittings, eq(sittings.id, trackReadings.sittingId))
    .where(which);
  const controller = db
    .select({ sittingId: controllerTracks.sittingId, at: controllerTracks.at })
    .from(controllerTracks)
    .innerJoin(sittings, eq(sittings.id, controllerTracks.sittingId))
    .where(which);
  return unionAll(flux, controller).as('all_readings');
}

/** Everything about one sitting. */
export async function sittingView(db: Executor, id: number) {
  const [row] = await db
    .select()
    .from(sittings)
    .innerJoin(media, eq(media.id, sittings.mediumId))
    .innerJoin(stations, eq(stations.id, sittings.stationId))
    .where(eq(sittings.id, id));
  if (!row) throw notFound(said('platform.sitting', { id }));
  const { sittings: sitting, media: medium, stations: station } = row;
  const blocks = await blockViewOf(db, sitting);
  const [rows, [count]] = await Promise.all([
    db
      .select()
      .from(tracks)
      .where(eq(tracks.sittingId, id))
      .orderBy(asc(tracks.cylinder), asc(tracks.head)),
    db
      .select({
        readings: sql<number>`count(*)::int`,
        first: sql<string | null>`min(at)`,
        last: sql<string | null>`max(at)`,
      })
      .from(readingsIn(db, eq(sittings.id, id))),
  ]);
  const left = readingsLeft(
    rows.map(({ progress }) => progress),
    sitting.policy,
  );
  const perReading =
    count!.readings > 1 && count!.first && count!.last
      ? (Date.parse(count!.last) - Date.parse(count!.first)) / (count!.readings - 1)
      : null;
  return {
    id,
    state: sitting.state,
    now: tell(sitting.now),
    requestedAction: sitting.requestedAction,
    layout: sitting.layout,
    stepping: sitting.stepping,
    startedAt: sitting.startedAt,
    endedAt: sitting.endedAt,
    preview: sitting.preview,
    duplicateMatch: sitting.duplicateMatch,
    range: sitting.policy.range,
    ...shapeOf(sitting.policy.range, rows),
    readings: blocks?.readings ?? count!.readings,
    blocks,
    secondsLeft: blocks
      ? blocks.secondsLeft
      : perReading === null
        ? null
        : Math.round((left * perReading) / 1000),
    medium: {
      id: medium.id,
      code: medium.code,
      title: medium.title,
      labelText: medium.labelText,
      lender: medium.lender,
      lot: medium.lot,
      condition: medium.condition,
      isBlank: medium.isBlank,
    },
    station: { id: station.id, form: station.form, model: station.model, serial: station.serial },
    tally:
      blocks?.tally ??
      tallyTracks(
        rows,
        sitting.policy.range ? tracksOfRange(sitting.policy.range).length : rows.length,
      ),
    tracks: rows.map(({ cylinder, head, progress, sectors }) => ({
      cylinder,
      head,
      tries: progress.tries,
      sectors,
    })),
  };
}

/** What the surface of a sitting span: its range, and whatever else was read. */
function shapeOf(
  range: Range | null,
  rows: readonly { cylinder: number; head: number }[],
): { cylinders: number; heads: number; tracksWanted: number } {
  return {
    cylinders: Math.max(
      range ? range.to + 1 : MAX_CYLINDERS,
      ...rows.map(({ cylinder }) => cylinder + 1),
    ),
    heads: Math.max(range ? Math.max(...range.heads) + 1 : 2, ...rows.map(({ head }) => head + 1)),
    tracksWanted: range ? tracksOfRange(range).length : rows.length,
  };
}

export type SittingView = Awaited<ReturnType<typeof sittingView>>;

/** Sittings of a medium, newest first, without their tracks: forty open as fast as two. */
export async function sittingsOfMedium(db: Executor, mediumId: number) {
  const readings = readingsIn(db, eq(sittings.mediumId, mediumId));
  const counted = db
    .select({ sittingId: readings.sittingId, readings: sql<number>`count(*)::int`.as('readings') })
    .from(readings)
    .groupBy(readings.sittingId)
    .as('counted');
  const rows = await db
    .select({
      id: sittings.id,
      stationId: sittings.stationId,
      state: sittings.state,
      now: sittings.now,
      startedAt: sittings.startedAt,
      endedAt: sittings.endedAt,
      layout: sittings.layout,
      captureBlob: sittings.captureBlob,
      device: sittings.device,
      healthAfter: sittings.healthAfter,
      readings: sql<number>`coalesce(${counted.readings}, (select count(*)::int from ${blockReadings} b
      where b.sitting_id = ${sittings.id}))`,
    })
    .from(sittings)
    .leftJoin(counted, eq(counted.sittingId, sittings.id))
    .where(eq(sittings.mediumId, mediumId))
    .orderBy(desc(sittings.id));
  return rows.map(nowTold);
}
