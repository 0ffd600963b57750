/**
 * Write-backs: an image written to a blank and proved. The writing is a job; an original is never a
 * target.
 */
import { sealCertificate } from './certificates';
import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import { z } from 'zod';
import type { Database, Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { writebackQueue, writebackTracks, writebacks } from './tables';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { endJob, enqueue, stationResource, wakeJob } from '@/server/platform/jobs/enqueue';
import { OUTCOMES, WRITEBACK_SOURCES } from '@/server/states';
import { machineFindings, mediumFindings } from './writeback-check';
import { lockStation, refuseWhileBusy } from '../stations/station-use';
import { note } from '../ledger/ledger';

export const WritebackRequest = z.object({
  fairCopyId: z.int().min(1),
  stationId: z.int().min(1),
  from: z.enum(WRITEBACK_SOURCES).default('image'),
  machine: z.string().max(60).nullable().default(null),
  precompensate: z.boolean().default(true),
  /** Disks to be made one after the other, the first of the blank that is in. */ count: z
    .int()
    .min(1)
    .max(100)
    .default(1),
});
type Wish = Omit<z.output<typeof WritebackRequest>, 'count'>;

/**
 * Begins to write to the blank that is in a station, in the caller's transaction; refuses what
 * can't go well.
 */
async function startWritebackIn(
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
    .select({ id: writebacks.id })
    .from(writebacks)
    .where(and(eq(writebacks.stationId, stationId), eq(writebacks.state, 'asks')));
  if (asking)
    throw new UserError(`A write-back at station ${stationId} waits for an answer. Give it first.`);
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
    .insert(writebacks)
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
    .returning({ id: writebacks.id });
  await note(tx, {
    operatorId,
    kind: 'writeback-started',
    mediumId: copy.media.id,
    stationId,
    writebackId: row!.id,
    what:
      `Write-back of ${copy.media.code}${from === 'flux' ? ', as flux,' : ''} to ` +
      `${target!.code} at station ${stationId} started.`,
  });
  await announce(tx, { kind: 'writeback', writebackId: row!.id, stationId });
  await enqueue(
    tx,
    'writeback',
    { writebackId: row!.id },
    { resource: stationResource(stationId) },
  );
  return row!.id;
}

/**
 * Begins a write-back, and puts as many more as are wanted in the station's queue, where each
 * waits for
 * the next blank.
 */
export function startWriteback(
  db: Database,
  operatorId: number,
  input: z.input<typeof WritebackRequest>,
): Promise<number> {
  const { count, ...wish } = WritebackRequest.parse(input);
  return db.transaction(async (tx) => {
    const id = await startWritebackIn(tx, operatorId, wish);
    await queueIn(tx, operatorId, wish, count - 1);
    return id;
  });
}

/** Puts write-backs in a station's queue, whatever is in it now. */
export async function queueWritebacks(
  db: Database,
  operatorId: number,
  input: z.input<typeof WritebackRequest>,
): Promise<void> {
  const { count, ...wish } = WritebackRequest.parse(input);
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
    .insert(writebackQueue)
    .values(Array.from({ length: count }, () => ({ ...wish, startedBy: operatorId })));
  await note(tx, {
    operatorId,
    kind: 'writeback-queued',
    stationId: wish.stationId,
    what:
      `${count} more ${count === 1 ? 'write-back waits' : 'write-backs wait'} for blanks at ` +
      `station ${wish.stationId}.`,
  });
  await announce(tx, { kind: 'writeback', writebackId: 0, stationId: wish.stationId });
}

/**
 * A blank came into a station: the first return that waits there begins. One that this blank can't
 * take stays, with the reason.
 */
export async function startQueued(tx: Executor, stationId: number): Promise<void> {
  const [next] = await tx
    .select()
    .from(writebackQueue)
    .where(eq(writebackQueue.stationId, stationId))
    .orderBy(writebackQueue.id)
    .limit(1);
  if (!next) return;
  try {
    await startWritebackIn(tx, next.startedBy, next);
    await tx.delete(writebackQueue).where(eq(writebackQueue.id, next.id));
  } catch (error) {
    if (!(error instanceof UserError)) throw error;
    await tx
      .update(writebackQueue)
      .set({ trouble: error.message })
      .where(eq(writebackQueue.id, next.id));
    await announce(tx, { kind: 'writeback', writebackId: 0, stationId });
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
      .delete(writebackQueue)
      .where(eq(writebackQueue.stationId, stationId))
      .returning({ id: writebackQueue.id });
    if (gone.length === 0)
      throw new UserError(`Nothing waits for a blank at station ${stationId}.`);
    await note(tx, {
      operatorId,
      kind: 'writeback-queued',
      stationId,
      what:
        `${gone.length} ${gone.length === 1 ? 'writeback' : 'writebacks'} that waited at ` +
        `station ${stationId} taken back.`,
    });
    await announce(tx, { kind: 'writeback', writebackId: 0, stationId });
  });
}

/** What waits for blanks, by station. */
export function listQueue(db: Executor) {
  return db
    .select({
      id: writebackQueue.id,
      stationId: writebackQueue.stationId,
      source: media.code,
      title: media.title,
      trouble: writebackQueue.trouble,
    })
    .from(writebackQueue)
    .innerJoin(fairCopies, eq(fairCopies.id, writebackQueue.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .orderBy(writebackQueue.id);
}

/**
 * Answers a write-back that asks because something is on its target: `typed` must be the target's
 * code.
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
      .from(writebacks)
      .innerJoin(media, eq(media.id, writebacks.targetId))
      .where(eq(writebacks.id, id))
      .for('update', { of: writebacks });
    if (!row) throw notFound(`write-back ${id}`);
    if (row.writebacks.state !== 'asks')
      throw new UserError('This write-back does not ask for anything.');
    if (typed.trim().toUpperCase() !== row.media.code)
      throw new UserError(`Type ${row.media.code} to write over what is on it.`, 422, 'typed');
    await tx
      .update(writebacks)
      .set({ overwrite: true, state: 'waiting', now: 'Waiting for a worker' })
      .where(eq(writebacks.id, id));
    await wakeJob(tx, 'writeback', { writebackId: id });
    await note(tx, {
      operatorId,
      kind: 'writeback-asked',
      stationId: row.writebacks.stationId,
      writebackId: id,
      what: `${row.media.code} may be written over.`,
    });
    await announce(tx, { kind: 'writeback', writebackId: id, stationId: row.writebacks.stationId });
  });
}

/**
 * Gives up a write-back: at once where it asks, at its next step where the device keeps it waiting.
 * What it was made from is not touched either way.
 */
export async function giveUpWriteback(db: Database, operatorId: number, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(writebacks).where(eq(writebacks.id, id)).for('update');
    if (!row) throw notFound(`write-back ${id}`);
    if (row.state === 'held' || row.state === 'writing' || row.state === 'waiting') {
      await tx.update(writebacks).set({ cancelled: true }).where(eq(writebacks.id, id));
      await announce(tx, { kind: 'writeback', writebackId: id, stationId: row.stationId });
      return;
    }
    if (row.state !== 'asks') throw new UserError('This write-back has ended already.');
    await tx
      .update(writebacks)
      .set({ state: 'failed', now: 'Given up; nothing was written.', endedAt: new Date() })
      .where(eq(writebacks.id, id));
    await endJob(tx, 'writeback', { writebackId: id });
    await note(tx, {
      operatorId,
      kind: 'writeback-ended',
      stationId: row.stationId,
      writebackId: id,
      what: 'Write-back given up; nothing was written.',
    });
    await announce(tx, { kind: 'writeback', writebackId: id, stationId: row.stationId });
  });
}

export const OutcomeTold = z.object({
  outcome: z.enum(OUTCOMES),
  note: z.string().trim().max(2000).transform(sanitizeText).default(''),
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
      .from(writebacks)
      .innerJoin(fairCopies, eq(fairCopies.id, writebacks.fairCopyId))
      .where(eq(writebacks.id, id))
      .for('update', { of: writebacks });
    if (!row) throw notFound(`write-back ${id}`);
    if (row.writebacks.state !== 'proved')
      throw new UserError('Only a write-back that was proved is tried in a machine.');
    await tx
      .update(writebacks)
      .set({ outcome, outcomeNote: words, outcomeBy: operatorId, outcomeAt: new Date() })
      .where(eq(writebacks.id, id));
    await note(tx, {
      operatorId,
      kind: 'writeback-outcome',
      mediumId: row.fair_copies.mediumId,
      writebackId: id,
      what: `Tried in the machine: ${OUTCOME_WORDS[outcome]}${words && `. ${words}`}`,
    });
    await announce(tx, { kind: 'writeback', writebackId: id, stationId: row.writebacks.stationId });
  });
  await sealCertificate(db, id);
}

export async function listWritebacks(db: Executor, mediumId?: number) {
  const rows = await db
    .select()
    .from(writebacks)
    .innerJoin(fairCopies, eq(fairCopies.id, writebacks.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(mediumId === undefined ? undefined : eq(media.id, mediumId))
    .orderBy(desc(writebacks.id))
    .limit(100);
  if (rows.length === 0) return [];
  const targets = await db
    .select()
    .from(media)
    .where(
      inArray(
        media.id,
        rows.map(({ writebacks: { targetId } }) => targetId),
      ),
    );
  const done = await db
    .select({
      writebackId: writebackTracks.writebackId,
      cylinder: writebackTracks.cylinder,
      head: writebackTracks.head,
      proved: writebackTracks.proved,
      tries: writebackTracks.tries,
      spread: writebackTracks.spread,
    })
    .from(writebackTracks)
    .where(
      inArray(
        writebackTracks.writebackId,
        rows.map(({ writebacks: { id } }) => id),
      ),
    )
    .orderBy(asc(writebackTracks.cylinder), asc(writebackTracks.head));
  return rows.map(({ writebacks: row, media: source, fair_copies: copy }) => ({
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
    tracks: done.filter(({ writebackId }) => writebackId === row.id),
  }));
}
export type WritebackView = Awaited<ReturnType<typeof listWritebacks>>[number];
