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
