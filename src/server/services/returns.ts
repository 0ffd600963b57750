/**
 * Returns: an image written to a blank and proved. The writing is a job; an original is never a
 * target.
 */
import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import { z } from 'zod';
import type { Database, Executor } from '../db/database';
import { fairCopies, jobs, media, returnQueue, returnTracks, returns } from '../db/schema';
import { storable } from '../db/storable';
import { UserError, notFound } from '../errors';
import { announce } from '../events';
import { wakeWorkers } from '../jobs/queue';
import { OUTCOMES, RETURN_SOURCES } from '../states';
import { machineFindings, mediumFindings } from './return-check';
import { lockStation, refuseWhileBusy, wakeJob } from './station-use';
import { note } from './ledger';

export const ReturnWish = z.object({
  fairCopyId: z.int().min(1),
  stationId: z.int().min(1),
  from: z.enum(RETURN_SOURCES).default('image'),
  machine: z.string().max(60).nullable().default(null),
  precompensate: z.boolean().default(true),
  /** Disks to be made one after the other, the first of the blank that is in. */ count: z
    .int()
    .min(1)
    .max(100)
    .default(1),
});
type Wish = Omit<z.output<typeof ReturnWish>, 'count'>;

/**
 * Begins to write to the blank that is in a station, in the caller's transaction; refuses what
 * can't go well.
 */
async function startReturnIn(
  tx: Executor,
  operatorId: number,
  { fairCopyId, stationId, from, machine, precompensate }: Wish,
): Promise<number> {
  const [copy] = await tx
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.id, fairCopyId));
  if (!copy) throw notFound('such fair copy');
  const station = await lockStation(tx, stationId);
  if (!station.mediumId)
    throw new UserError(`Station ${stationId} is empty. Put a blank in it first.`);
  const [target] = await tx.select().from(media).where(eq(media.id, station.mediumId));
  if (!target!.isBlank)
    throw new UserError(
      `${target!.code} in station ${stationId} is an original: it is never written. ` +
        'Put a blank in.',
    );
  if (from === 'flux' && (!copy.fair_copies.captureBlob || copy.fair_copies.blocks))
    throw new UserError('There is no flux capture with this copy; only its image can be written.');
  await refuseWhileBusy(tx, stationId);
  const [asking] = await tx
    .select({ id: returns.id })
    .from(returns)
    .where(and(eq(returns.stationId, stationId), eq(returns.state, 'asks')));
  if (asking)
    throw new UserError(`A return at station ${stationId} waits for an answer. Give it first.`);
  if (station.abilities && !station.abilities.writes)
    throw new UserError(
      `The drive of station ${stationId} does not write. Put ${target!.code} in another station.`,
    );
  const stops = [
    ...(await mediumFindings(tx, copy.fair_copies, target!, station)),
    ...(await machineFindings(tx, copy.fair_copies, machine)),
  ].filter(({ weight }) => weight === 'stops');
  if (stops.length > 0)
    throw new UserError(`${stops.map(({ sentence }) => sentence).join(' ')} Nothing was written.`);
  const [row] = await tx
    .insert(returns)
    .values({
      fairCopyId,
      targetId: target!.id,
      stationId,
      from,
      machine,
      precompensate,
      state: 'waiting',
      now: 'Waiting for a worker',
      startedBy: operatorId,
    })
    .returning({ id: returns.id });
  await tx.insert(jobs).values({ kind: 'return', subject: row!.id, stationId, state: 'waiting' });
  await note(tx, {
    operatorId,
    kind: 'return-started',
    mediumId: copy.media.id,
    stationId,
    returnId: row!.id,
    what:
      `Return of ${copy.media.code}${from === 'flux' ? ', as flux,' : ''} to ` +
      `${target!.code} at station ${stationId} started.`,
  });
  await announce(tx, { kind: 'return', returnId: row!.id, stationId });
  await wakeWorkers(tx);
  return row!.id;
}

/**
 * Begins a return, and puts as many more as are wanted in the station's queue, where each waits for
 * the next blank.
 */
export function startReturn(
  db: Database,
  operatorId: number,
  input: z.input<typeof ReturnWish>,
): Promise<number> {
  const { count, ...wish } = ReturnWish.parse(input);
  return db.transaction(async (tx) => {
    const id = await startReturnIn(tx, operatorId, wish);
    await queueIn(tx, operatorId, wish, count - 1);
    return id;
  });
}

/** Puts returns in a station's queue, whatever is in it now. */
export async function queueReturns(
  db: Database,
  operatorId: number,
  input: z.input<typeof ReturnWish>,
): Promise<void> {
  const { count, ...wish } = ReturnWish.parse(input);
  await db.transaction(async (tx) => {
    const [copy] = await tx
      .select({ id: fairCopies.id })
      .from(fairCopies)
      .where(eq(fairCopies.id, wish.fairCopyId));
    if (!copy) throw notFound('such fair copy');
    await lockStation(tx, wish.stationId);
    await queueIn(tx, operatorId, wish, count);
  });
}

async function queueIn(tx: Executor, operatorId: number, wish: Wish, count: number): Promise<void> {
  if (count === 0) return;
  await tx
    .insert(returnQueue)
    .values(Array.from({ length: count }, () => ({ ...wish, startedBy: operatorId })));
  await note(tx, {
    operatorId,
    kind: 'return-queued',
    stationId: wish.stationId,
    what:
      `${count} more ${count === 1 ? 'return waits' : 'returns wait'} for blanks at ` +
      `station ${wish.stationId}.`,
  });
  await announce(tx, { kind: 'return', returnId: 0, stationId: wish.stationId });
}

/**
 * A blank came into a station: the first return that waits there begins. One that this blank can't
 * take stays, with the reason.
 */
export async function startQueued(tx: Executor, stationId: number): Promise<void> {
  const [next] = await tx
    .select()
    .from(returnQueue)
    .where(eq(returnQueue.stationId, stationId))
    .orderBy(returnQueue.id)
    .limit(1);
  if (!next) return;
  try {
    await startReturnIn(tx, next.startedBy, next);
    await tx.delete(returnQueue).where(eq(returnQueue.id, next.id));
  } catch (error) {
    if (!(error instanceof UserError)) throw error;
    await tx.update(returnQueue).set({ trouble: error.message }).where(eq(returnQueue.id, next.id));
    await announce(tx, { kind: 'return', returnId: 0, stationId });
  }
}

/** Takes back what waits at a station. */
export async function emptyQueue(
  db: Database,
  operatorId: number,
  stationId: number,
): Promise<void> {
  await db.transaction(async (tx) => {
    const gone = await tx
      .delete(returnQueue)
      .where(eq(returnQueue.stationId, stationId))
      .returning({ id: returnQueue.id });
    if (gone.length === 0)
      throw new UserError(`Nothing waits for a blank at station ${stationId}.`);
    await note(tx, {
      operatorId,
      kind: 'return-queued',
      stationId,
      what:
        `${gone.length} ${gone.length === 1 ? 'return' : 'returns'} that waited at ` +
        `station ${stationId} taken back.`,
    });
    await announce(tx, { kind: 'return', returnId: 0, stationId });
  });
}

/** What waits for blanks, by station. */
export function listQueue(db: Executor) {
  return db
    .select({
      id: returnQueue.id,
      stationId: returnQueue.stationId,
      source: media.code,
      title: media.title,
      trouble: returnQueue.trouble,
    })
    .from(returnQueue)
    .innerJoin(fairCopies, eq(fairCopies.id, returnQueue.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .orderBy(returnQueue.id);
}

/**
 * Answers a return that asks because something is on its target: `typed` must be the target's code.
 */
export async function confirmOverwrite(
  db: Database,
  operatorId: number,
  id: number,
  typed: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx
      .select()
      .from(returns)
      .innerJoin(media, eq(media.id, returns.targetId))
      .where(eq(returns.id, id))
      .for('update', { of: returns });
    if (!row) throw notFound(`return ${id}`);
    if (row.returns.state !== 'asks') throw new UserError('This return does not ask for anything.');
    if (typed.trim().toUpperCase() !== row.media.code)
      throw new UserError(`Type ${row.media.code} to write over what is on it.`, 422, 'typed');
    await tx
      .update(returns)
      .set({ overwrite: true, state: 'waiting', now: 'Waiting for a worker' })
      .where(eq(returns.id, id));
    await wakeJob(tx, 'return', id);
    await note(tx, {
      operatorId,
      kind: 'return-asked',
      stationId: row.returns.stationId,
      returnId: id,
      what: `${row.media.code} may be written over.`,
    });
    await announce(tx, { kind: 'return', returnId: id, stationId: row.returns.stationId });
  });
}

/**
 * Gives up a return: at once where it asks, at its next step where the device keeps it waiting.
 * What it was made from is not touched either way.
 */
export async function giveUpReturn(db: Database, operatorId: number, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(returns).where(eq(returns.id, id)).for('update');
    if (!row) throw notFound(`return ${id}`);
    if (row.state === 'held' || row.state === 'writing' || row.state === 'waiting') {
      await tx.update(returns).set({ cancelled: true }).where(eq(returns.id, id));
      await announce(tx, { kind: 'return', returnId: id, stationId: row.stationId });
      return;
    }
    if (row.state !== 'asks') throw new UserError('This return has ended already.');
    await tx
      .update(returns)
      .set({ state: 'failed', now: 'Given up; nothing was written.', endedAt: new Date() })
      .where(eq(returns.id, id));
    await tx
      .update(jobs)
      .set({ state: 'done' })
      .where(and(eq(jobs.kind, 'return'), eq(jobs.subject, id)));
    await note(tx, {
      operatorId,
      kind: 'return-ended',
      stationId: row.stationId,
      returnId: id,
      what: 'Return given up; nothing was written.',
    });
    await announce(tx, { kind: 'return', returnId: id, stationId: row.stationId });
  });
}

export const OutcomeTold = z.object({
  outcome: z.enum(OUTCOMES),
  note: z.string().trim().max(2000).transform(storable).default(''),
});

const OUTCOME_WORDS = {
  works: 'it works',
  'does-not': 'it does not work',
  'not-tried': 'it is not going to be tried',
} as const;

/** How the disk did in the old machine; may be said again, as the last word counts. */
export async function tellOutcome(
  db: Database,
  operatorId: number,
  id: number,
  { outcome, note: words }: z.output<typeof OutcomeTold>,
): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx
      .select()
      .from(returns)
      .innerJoin(fairCopies, eq(fairCopies.id, returns.fairCopyId))
      .where(eq(returns.id, id))
      .for('update', { of: returns });
    if (!row) throw notFound(`return ${id}`);
    if (row.returns.state !== 'proved')
      throw new UserError('Only a return that was proved is tried in a machine.');
    await tx
      .update(returns)
      .set({ outcome, outcomeNote: words, outcomeBy: operatorId, outcomeAt: new Date() })
      .where(eq(returns.id, id));
    await note(tx, {
      operatorId,
      kind: 'return-outcome',
      mediumId: row.fair_copies.mediumId,
      returnId: id,
      what: `Tried in the machine: ${OUTCOME_WORDS[outcome]}${words && `. ${words}`}`,
    });
    await announce(tx, { kind: 'return', returnId: id, stationId: row.returns.stationId });
  });
}

export async function listReturns(db: Executor, mediumId?: number) {
  const rows = await db
    .select()
    .from(returns)
    .innerJoin(fairCopies, eq(fairCopies.id, returns.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(mediumId === undefined ? undefined : eq(media.id, mediumId))
    .orderBy(desc(returns.id))
    .limit(100);
  if (rows.length === 0) return [];
  const targets = await db
    .select()
    .from(media)
    .where(
      inArray(
        media.id,
        rows.map(({ returns: { targetId } }) => targetId),
      ),
    );
  const done = await db
    .select({
      returnId: returnTracks.returnId,
      cylinder: returnTracks.cylinder,
      head: returnTracks.head,
      proved: returnTracks.proved,
      tries: returnTracks.tries,
      spread: returnTracks.spread,
    })
    .from(returnTracks)
    .where(
      inArray(
        returnTracks.returnId,
        rows.map(({ returns: { id } }) => id),
      ),
    )
    .orderBy(asc(returnTracks.cylinder), asc(returnTracks.head));
  return rows.map(({ returns: row, media: source, fair_copies: copy }) => ({
    id: row.id,
    from: row.from,
    state: row.state,
    now: row.now,
    stationId: row.stationId,
    startedAt: row.startedAt,
    endedAt: row.endedAt,
    source: source.code,
    sourceTitle: source.title,
    target: targets.find(({ id }) => id === row.targetId)!.code,
    layout: copy.layout,
    sha256: copy.imageSha256,
    fairCopyId: copy.id,
    machine: row.machine,
    found: row.found,
    blocks: row.blocks,
    cancelled: row.cancelled,
    outcome: row.outcome,
    outcomeNote: row.outcomeNote,
    tracks: done.filter(({ returnId }) => returnId === row.id),
  }));
}
export type ReturnView = Awaited<ReturnType<typeof listReturns>>[number];
