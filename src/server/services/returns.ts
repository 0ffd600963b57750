/** Returns: an image written to a blank and proved. The writing is a job; an original is never a target. */
import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import type { Database, Executor } from '../db/database';
import { fairCopies, jobs, media, returnTracks, returns } from '../db/schema';
import { UserError, notFound } from '../errors';
import { announce } from '../events';
import { wakeWorkers } from '../jobs/queue';
import type { ReturnSource } from '../states';
import { lockStation, refuseWhileBusy, wakeJob } from './station-use';
import { note } from './ledger';

export async function startReturn(db: Database, operatorId: number, fairCopyId: number, stationId: number, from: ReturnSource = 'image'): Promise<number> {
  return db.transaction(async (tx) => {
    const [copy] = await tx.select().from(fairCopies).innerJoin(media, eq(media.id, fairCopies.mediumId)).where(eq(fairCopies.id, fairCopyId));
    if (!copy) throw notFound('such fair copy');
    const station = await lockStation(tx, stationId);
    if (!station.mediumId) throw new UserError(`Station ${stationId} is empty. Put a blank in it first.`);
    const [target] = await tx.select().from(media).where(eq(media.id, station.mediumId));
    if (!target!.isBlank) throw new UserError(`${target!.code} in station ${stationId} is an original: it is never written. Put a blank in.`);
    if (!copy.fair_copies.layout) throw new UserError('No layout is known for this image, so it can\'t be laid out on a disk.');
    if (from === 'flux' && !copy.fair_copies.captureBlob) throw new UserError('There is no flux capture with this copy; only its image can be written.');
    await refuseWhileBusy(tx, stationId);
    const [asking] = await tx.select({ id: returns.id }).from(returns).where(and(eq(returns.stationId, stationId), eq(returns.state, 'asks')));
    if (asking) throw new UserError(`A return at station ${stationId} waits for an answer. Give it first.`);
    if (station.abilities && !station.abilities.writes) throw new UserError(`The drive of station ${stationId} does not write. Put ${target!.code} in another station.`);
    const [row] = await tx.insert(returns).values({
      fairCopyId, targetId: target!.id, stationId, from, state: 'waiting', now: 'Waiting for a worker', startedBy: operatorId,
    }).returning({ id: returns.id });
    await tx.insert(jobs).values({ kind: 'return', subject: row!.id, stationId, state: 'waiting' });
    await note(tx, { operatorId, kind: 'return-started', mediumId: copy.media.id, stationId, returnId: row!.id, what: `Return of ${copy.media.code}${from === 'flux' ? ', as flux,' : ''} to ${target!.code} at station ${stationId} started.` });
    await announce(tx, { kind: 'return', returnId: row!.id, stationId });
    await wakeWorkers(tx);
    return row!.id;
  });
}

/** Answers a return that asks because something is on its target: `typed` must be the target's code. */
export async function confirmOverwrite(db: Database, operatorId: number, id: number, typed: string): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(returns).innerJoin(media, eq(media.id, returns.targetId)).where(eq(returns.id, id)).for('update', { of: returns });
    if (!row) throw notFound(`return ${id}`);
    if (row.returns.state !== 'asks') throw new UserError('This return does not ask for anything.');
    if (typed.trim().toUpperCase() !== row.media.code) throw new UserError(`Type ${row.media.code} to write over what is on it.`, 422, 'typed');
    await tx.update(returns).set({ overwrite: true, state: 'waiting', now: 'Waiting for a worker' }).where(eq(returns.id, id));
    await wakeJob(tx, 'return', id);
    await note(tx, { operatorId, kind: 'return-asked', stationId: row.returns.stationId, returnId: id, what: `${row.media.code} may be written over.` });
    await announce(tx, { kind: 'return', returnId: id, stationId: row.returns.stationId });
  });
}

export async function giveUpReturn(db: Database, operatorId: number, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(returns).where(eq(returns.id, id)).for('update');
    if (row?.state !== 'asks') throw new UserError('Only a return that asks can be given up.');
    await tx.update(returns).set({ state: 'failed', now: 'Given up; nothing was written.', endedAt: new Date() }).where(eq(returns.id, id));
    await tx.update(jobs).set({ state: 'done' }).where(and(eq(jobs.kind, 'return'), eq(jobs.subject, id)));
    await note(tx, { operatorId, kind: 'return-ended', stationId: row.stationId, returnId: id, what: 'Return given up; nothing was written.' });
    await announce(tx, { kind: 'return', returnId: id, stationId: row.stationId });
  });
}

export async function listReturns(db: Executor, mediumId?: number) {
  const rows = await db.select().from(returns).innerJoin(fairCopies, eq(fairCopies.id, returns.fairCopyId)).innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(mediumId === undefined ? undefined : eq(media.id, mediumId)).orderBy(desc(returns.id)).limit(100);
  if (rows.length === 0) return [];
  const targets = await db.select().from(media).where(inArray(media.id, rows.map(({ returns: { targetId } }) => targetId)));
  const done = await db.select({ returnId: returnTracks.returnId, cylinder: returnTracks.cylinder, head: returnTracks.head, proved: returnTracks.proved, tries: returnTracks.tries })
    .from(returnTracks).where(inArray(returnTracks.returnId, rows.map(({ returns: { id } }) => id))).orderBy(asc(returnTracks.cylinder), asc(returnTracks.head));
  return rows.map(({ returns: row, media: source, fair_copies: copy }) => ({
    id: row.id, from: row.from, state: row.state, now: row.now, stationId: row.stationId, startedAt: row.startedAt, endedAt: row.endedAt, source: source.code, sourceTitle: source.title,
    target: targets.find(({ id }) => id === row.targetId)!.code, layout: copy.layout, sha256: copy.imageSha256,
    tracks: done.filter(({ returnId }) => returnId === row.id),
  }));
}
export type ReturnView = Awaited<ReturnType<typeof listReturns>>[number];
