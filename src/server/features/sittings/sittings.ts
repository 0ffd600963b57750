/**
 * Sittings: started, paused, gone on with, stopped; and what a page needs of one. The reading
 * itself is a job.
 */
import { asc, desc, eq, sql, type SQL } from 'drizzle-orm';
import { unionAll } from 'drizzle-orm/pg-core';
import { readsBlocks } from '@/core/drive-abilities';
import { cleaningDue } from '@/core/reading/head-care';
import { DEFAULT_POLICY, readingsLeft, tracksOfRange, type Range } from '@/core/reading/plan';
import { tallyTracks } from '@/core/reading/track-marks';
import type { Database, Executor } from '@/server/platform/db/database';
import { blockReadings } from './tables';
import { lots, media } from '../media/tables';
import { sittings, controllerTracks, trackReadings, tracks } from './tables';
import { stations } from '../stations/tables';
import { UserError, notFound, treatItFirst } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue, stationResource, wakeJob } from '@/server/platform/jobs/enqueue';
import { isResting, isRunning } from '@/server/states';
import { blockViewOf } from './block-sittings';
import {
  lockSitting,
  lockStation,
  refuseElsewhere,
  refuseWhileBusy,
} from '../stations/station-use';
import { note } from '../ledger/ledger';

/** What is drawn before it is known how far a medium goes. */
const MAX_CYLINDERS = 80;

interface StartOptions {
  /** Reads on after the first tracks without asking how far. */
  unattended?: boolean;
  /** Although the head wants cleaning first. */
  uncleaned?: boolean;
}

export async function startSitting(
  db: Database,
  operatorId: number,
  stationId: number,
  options: StartOptions = {},
): Promise<number> {
  return db.transaction((tx) => startSittingIn(tx, operatorId, stationId, options));
}

/** The same in the caller's transaction. */
export async function startSittingIn(
  tx: Executor,
  operatorId: number,
  stationId: number,
  { unattended = true, uncleaned = false }: StartOptions,
): Promise<number> {
  const station = await lockStation(tx, stationId);
  if (!station.mediumId)
    throw new UserError(`Station ${stationId} is empty. Put a medium in it first.`);
  await refuseWhileBusy(tx, stationId);
  const [open] = await tx
    .select()
    .from(sittings)
    .where(eq(sittings.stationId, stationId))
    .orderBy(desc(sittings.id))
    .limit(1);
  if (open && open.mediumId === station.mediumId && isResting(open.state))
    throw new UserError(
      `Station ${stationId} has a sitting already. Go on with it, or stop it; what was ` +
        'read is kept.',
    );
  const [medium] = await tx.select().from(media).where(eq(media.id, station.mediumId));
  // The mark may have been set since it was put in.
  if (medium!.treatFirst) throw treatItFirst(medium!.code);
  const due = readsBlocks(station.abilities)
    ? null
    : cleaningDue({
        readings: station.readingsSinceCleaning,
        shedding: station.sheddingSinceCleaning,
      });
  // The medium that left the dirt may be read again: it does itself no further harm.
  if (due && !uncleaned && open?.mediumId !== medium!.id)
    throw new UserError(
      `${due} Take ${medium!.code} out, clean the head of station ${stationId}, and ` +
        'say so; or read it all the same.',
      409,
      null,
      { code: 'head-wants-cleaning' },
    );
  const [lot] = await tx
    .select({
      revolutions: lots.revolutions,
      tries: lots.tries,
      sweep: lots.sweep,
      gentle: lots.gentle,
    })
    .from(lots)
    .where(eq(lots.name, medium!.lot));
  const policy = { range: null, ...DEFAULT_POLICY, ...lot };
  const [sitting] = await tx
    .insert(sittings)
    .values({
      mediumId: station.mediumId,
      stationId,
      state: 'waiting',
      now: 'Waiting for a worker',
      startedBy: operatorId,
      unattended,
      policy,
    })
    .returning({ id: sittings.id });
  await note(tx, {
    operatorId,
    kind: 'sitting-started',
    mediumId: station.mediumId,
    stationId,
    sittingId: sitting!.id,
    what:
      `Sitting started: ${medium!.code} at station ${stationId}, ` +
      `${
        readsBlocks(station.abilities)
          ? 'block by block'
          : `${policy.revolutions} ${policy.revolutions === 1 ? 'turn' : 'turns'} a track, ` +
            `${policy.sweep === 'inward' ? 'outermost to innermost' : 'innermost to outermost'}`
      }${policy.gentle ? ', gently' : ''}${due && uncleaned ? ', with a head that wants cleaning' : ''}.`,
  });
  await announce(tx, {
    kind: 'sitting',
    sittingId: sitting!.id,
    stationId,
    mediumId: station.mediumId,
  });
  await enqueue(
    tx,
    'sitting',
    { sittingId: sitting!.id },
    { resource: stationResource(stationId) },
  );
  return sitting!.id;
}

/**
 * Asks a running sitting to pause, or to stop and settle what it has; it does so at the next track.
 */
export async function askSitting(
  db: Database,
  operatorId: number,
  id: number,
  requestedAction: 'pause' | 'stop' | 'go-on',
): Promise<void> {
  await db.transaction(async (tx) => {
    const sitting = await lockSitting(tx, id);
    const { stationId, mediumId, state } = sitting;
    if (requestedAction === 'pause') {
      if (!isRunning(state)) throw new UserError('This sitting is not running.');
      await tx.update(sittings).set({ requestedAction: 'pause' }).where(eq(sittings.id, id));
    } else {
      if (state === 'done' || state === 'failed' || state === 'settling')
        throw new UserError('This sitting has ended.');
      const resting = isResting(state);
      if (state === 'asks' && requestedAction === 'go-on')
        throw new UserError('Say how far to read first.');
      if (resting && requestedAction === 'go-on') await refuseElsewhere(tx, sitting);
      await tx
        .update(sittings)
        .set({
          // Gone on with although the head looks dirty: it is not asked after again.
          ...(state === 'dirty' && { headAskedAfter: true }),
          requestedAction: requestedAction === 'stop' ? 'stop' : null,
          ...(resting && {
            state: 'waiting',
            now: requestedAction === 'stop' ? 'Settling what was read' : 'Waiting for a worker',
          }),
        })
        .where(eq(sittings.id, id));
      if (resting) await wakeJob(tx, 'sitting', { sittingId: id });
      await note(tx, {
        operatorId,
        kind: requestedAction === 'stop' ? 'sitting-stopped' : 'sitting-resumed',
        mediumId,
        stationId,
        sittingId: id,
        what: requestedAction === 'stop' ? 'Stopped by hand; what was read is kept.' : 'Gone on.',
      });
    }
    await announce(tx, { kind: 'sitting', sittingId: id, stationId, mediumId });
  });
}

/** Answers the question that follows the first tracks: how far to read. */
export async function answerPreview(
  db: Database,
  operatorId: number,
  id: number,
  range: Range,
): Promise<void> {
  await db.transaction(async (tx) => {
    const sitting = await lockSitting(tx, id);
    const { stationId, mediumId, state, policy, preview } = sitting;
    if (state !== 'asks' || !preview)
      throw new UserError('This sitting does not ask how far to read.');
    if (range.from > range.to || range.heads.length === 0)
      throw new UserError('From and to leave nothing to read.', 422, 'to');
    // The last landmark is the end of the drive: beyond it every step would be refused, and the
    // sitting held for good.
    const last = Math.max(...preview.landmarks.map(({ to }) => to));
    if (range.to > last)
      throw new UserError(`The drive reaches position ${last}, not ${range.to}.`, 422, 'to');
    await refuseElsewhere(tx, sitting);
    await tx
      .update(sittings)
      .set({ policy: { ...policy, range }, state: 'waiting', now: 'Waiting for a worker' })
      .where(eq(sittings.id, id));
    await wakeJob(tx, 'sitting', { sittingId: id });
    await note(tx, {
      operatorId,
      kind: 'sitting-resumed',
      mediumId,
      stationId,
      sittingId: id,
      what:
        `To be read: positions ${range.from} to ` +
        `${range.to}${range.step === 2 ? ', every second' : ''}, ` +
        `${range.heads.length === 1 ? `head ${range.heads[0]}` : 'both heads'}.`,
    });
    await announce(tx, { kind: 'sitting', sittingId: id, stationId, mediumId });
  });
}

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
  if (!row) throw notFound(`sitting ${id}`);
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
    now: sitting.now,
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
export function sittingsOfMedium(db: Executor, mediumId: number) {
  const readings = readingsIn(db, eq(sittings.mediumId, mediumId));
  const counted = db
    .select({ sittingId: readings.sittingId, readings: sql<number>`count(*)::int`.as('readings') })
    .from(readings)
    .groupBy(readings.sittingId)
    .as('counted');
  return db
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
}
