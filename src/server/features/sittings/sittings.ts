/**
 * Sittings: started, paused, gone on with, stopped; and what a page needs of one. The reading
 * itself is a job.
 */
import { desc, eq } from 'drizzle-orm';
import { readsBlocks } from '@/core/drive-abilities';
import { cleaningDue } from '@/core/reading/plan/head-care';
import { DEFAULT_POLICY, type Range } from '@/core/reading/plan/plan';
import type { Database, Executor } from '@/server/platform/db/database';
import { lots, media } from '../media/tables';
import { sittings } from './tables';
import { UserError, treatItFirst } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue, stationResource, wakeJob } from '@/server/platform/jobs/enqueue';
import { isResting, isRunning } from '@/server/states';
import {
  lockSitting,
  lockStation,
  refuseElsewhere,
  refuseWhileBusy,
} from '../stations/station-use';
import { note } from '../ledger/ledger';
import { readOn } from './read-on';
import { said, type Said } from '@/core/said';

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
  if (!station.mediumId) throw new UserError(said('sittings.stationIsEmptyPut', { stationId }));
  await refuseWhileBusy(tx, stationId);
  const [open] = await tx
    .select()
    .from(sittings)
    .where(eq(sittings.stationId, stationId))
    .orderBy(desc(sittings.id))
    .limit(1);
  if (open && open.mediumId === station.mediumId && isResting(open.state))
    throw new UserError(said('sittings.stationHasASitting', { stationId }));
  const [medium] = await tx.select().from(media).where(eq(media.id, station.mediumId));
  // The mark may have been set since it was put in.
  if (medium!.treatFirst) throw treatItFirst(medium!.code);
  const due = refuseDirtyHead(station, uncleaned, open, medium!);
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
      now: said('platform.waitingForAWorker'),
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
    what: said('sittings.sittingStartedAtStation', {
      code: medium!.code,
      stationId,
      how: readsBlocks(station.abilities)
        ? said('sittings.blockByBlock')
        : said('sittings.turnsATrack', {
            revolutions: policy.revolutions,
            isInward: policy.sweep === 'inward',
          }),
      isGentle: policy.gentle,
      isUncleaned: due !== null && uncleaned,
    }),
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

/** What a cleaning is due for, where it is read all the same; null where none is due. */
function refuseDirtyHead(
  station: Awaited<ReturnType<typeof lockStation>>,
  uncleaned: boolean,
  before: typeof sittings.$inferSelect | undefined,
  medium: typeof media.$inferSelect,
): Said | null {
  const due = readsBlocks(station.abilities)
    ? null
    : cleaningDue({
        readings: station.readingsSinceCleaning,
        shedding: station.sheddingSinceCleaning,
      });
  // The medium that left the dirt may be read again: it does itself no further harm.
  if (due && !uncleaned && before?.mediumId !== medium.id)
    throw new UserError(
      said('sittings.takeOutCleanThe', { due, code: medium.code, stationId: station.id }),
      409,
      null,
      { code: 'head-wants-cleaning' },
    );
  return due;
}

function refuseIn(state: typeof sittings.$inferSelect.state, stops: boolean): void {
  if (state === 'done' || state === 'failed' || state === 'settling')
    throw new UserError(said('sittings.thisSittingHasEnded'));
  if (state === 'asks' && !stops) throw new UserError(said('sittings.sayHowFarTo'));
}

/** `what` is said of one that goes on. */
export async function goOnOrStop(
  tx: Executor,
  operatorId: number,
  sitting: Awaited<ReturnType<typeof lockSitting>>,
  stops: boolean,
  what: Said = said('sittings.goneOn'),
): Promise<void> {
  const { id, stationId, mediumId, state, endedWhy } = sitting;
  refuseIn(state, stops);
  const rests = isResting(state);
  if (rests && !stops) await refuseElsewhere(tx, sitting);
  const now = stops ? said('sittings.settlingWhatWasRead') : said('platform.waitingForAWorker');
  await tx
    .update(sittings)
    .set({
      // Gone on with although the head looks dirty: it is not asked after again.
      ...(state === 'dirty' && { headAskedAfter: true }),
      requestedAction: stops ? 'stop' : null,
      // One that was given up while it was settled has nothing more to read.
      ...(rests && { state: endedWhy === null ? 'waiting' : 'settling', now }),
    })
    .where(eq(sittings.id, id));
  if (rests) await wakeJob(tx, 'sitting', { sittingId: id });
  await note(tx, {
    operatorId,
    kind: stops ? 'sitting-stopped' : 'sitting-resumed',
    mediumId,
    stationId,
    sittingId: id,
    what: stops ? said('sittings.stoppedByHandWhat') : what,
  });
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
    const { stationId, mediumId } = sitting;
    if (requestedAction === 'pause') {
      if (!isRunning(sitting.state)) throw new UserError(said('sittings.thisSittingIsNot'));
      await tx.update(sittings).set({ requestedAction: 'pause' }).where(eq(sittings.id, id));
    } else await goOnOrStop(tx, operatorId, sitting, requestedAction === 'stop');
    await announce(tx, { kind: 'sitting', sittingId: id, stationId, mediumId });
  });
}

/** A person will not wait while what was read is settled: what is left goes by single turns. */
export async function hurrySitting(db: Database, operatorId: number, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const { stationId, mediumId, state } = await lockSitting(tx, id);
    if (state !== 'settling') throw new UserError(said('sittings.nothingIsSettled'), 409);
    await tx.update(sittings).set({ requestedAction: 'hurry' }).where(eq(sittings.id, id));
    const what = said('copies.whatIsLeftBySingleTurns');
    await note(tx, {
      operatorId,
      kind: 'settling-hurried',
      mediumId,
      stationId,
      sittingId: id,
      what,
    });
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
    const { state, policy, preview } = sitting;
    if (state !== 'asks' || !preview) throw new UserError(said('sittings.thisSittingDoesNot'));
    if (range.from > range.to || range.heads.length === 0)
      throw new UserError(said('sittings.fromAndToLeave'), 422, 'to');
    // The last landmark is the end of the drive: beyond it every step would be refused, and the
    // sitting held for good.
    const last = Math.max(...preview.landmarks.map(({ to }) => to));
    if (range.to > last)
      throw new UserError(
        said('sittings.theDriveReachesPosition', { last, to: range.to }),
        422,
        'to',
      );
    await refuseElsewhere(tx, sitting);
    const what = said('sittings.toBeReadPositions', {
      from: range.from,
      to: range.to,
      step: range.step,
      heads: range.heads.map(String),
    });
    await readOn(tx, operatorId, sitting, { policy: { ...policy, range } }, what);
  });
}
