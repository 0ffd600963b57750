/** Stations: which drive stands where, what is in it, and who is at work there. */
import { and, asc, desc, eq, inArray } from 'drizzle-orm';
import { BenchClient } from '@/benchlink/client';
import { DeviceError } from '@/benchlink/messages';
import type { Database, Executor } from '../db/database';
import { media, returns, sittings, stations, tracks } from '../db/schema';
import { UserError, notFound, treatItFirst } from '../errors';
import { storable } from '../db/storable';
import { announce } from '../events';
import { benchAddress } from '../bench-address';
import { note } from './ledger';
import { isRunning } from '../states';

/** A connection for the length of `work`; a bench that is gone becomes a sentence. */
export async function withBench<T>(work: (bench: BenchClient) => Promise<T>): Promise<T> {
  const bench = await BenchClient.connect(benchAddress()).catch((error) => {
    throw new UserError('The bench can\'t be reached. What was read is kept; switch it on, or check its cable, and try again.', 503, null, { cause: error });
  });
  try {
    return await work(bench);
  } catch (error) {
    if (error instanceof DeviceError) throw new UserError(error.message, 409, null, { cause: error });
    throw error;
  } finally {
    bench.close();
  }
}

/** Brings the stations up to date with the drives that the bench has. */
export async function syncStations(db: Database): Promise<void> {
  const drives = await withBench((bench) => bench.drives());
  await db.transaction(async (tx) => {
    for (const [at, { id, form, model, serial }] of drives.entries()) {
      const facts = { drive: id, form, model, serial };
      await tx.insert(stations).values({ id: at + 1, ...facts }).onConflictDoUpdate({ target: stations.id, set: facts });
    }
    await announce(tx, { kind: 'stations' });
  });
}

const RUNNING = ['waiting', 'reading', 'asks', 'paused', 'held', 'settling'] as const;

/** Every station with its medium, and the sitting or return that is at work on it. */
export async function listStations(db: Executor) {
  const rows = await db.select().from(stations).leftJoin(media, eq(media.id, stations.mediumId)).orderBy(asc(stations.id));
  const ids = rows.map(({ stations: { id } }) => id);
  if (ids.length === 0) return [];
  const live = await db.select().from(sittings).where(and(inArray(sittings.stationId, ids), inArray(sittings.state, [...RUNNING])));
  const writing = await db.select().from(returns).where(and(inArray(returns.stationId, ids), inArray(returns.state, ['waiting', 'writing', 'held', 'asks'])));
  const marks = live.length > 0
    ? await db.select({ sittingId: tracks.sittingId, cylinder: tracks.cylinder, head: tracks.head, progress: tracks.progress }).from(tracks).where(inArray(tracks.sittingId, live.map(({ id }) => id)))
    : [];
  return rows.map(({ stations: station, media: medium }) => {
    const sitting = live.find(({ stationId, mediumId }) => stationId === station.id && mediumId === medium?.id) ?? null;
    const returning = writing.find(({ stationId }) => stationId === station.id) ?? null;
    return {
      ...station, medium: medium && { id: medium.id, code: medium.code, title: medium.title, labelText: medium.labelText, lender: medium.lender, lot: medium.lot, condition: medium.condition, isBlank: medium.isBlank },
      sitting: sitting && { id: sitting.id, state: sitting.state, now: sitting.now, cylinders: sitting.policy.reach ? sitting.policy.reach.to + 1 : 80 },
      returning: returning && { id: returning.id, state: returning.state, now: returning.now },
      tracks: marks.filter(({ sittingId }) => sittingId === sitting?.id).map(({ cylinder, head, progress }) => ({ cylinder, head, unsound: progress.unsound })),
    };
  });
}
export type StationView = Awaited<ReturnType<typeof listStations>>[number];

async function stationRow(tx: Executor, id: number) {
  const [station] = await tx.select().from(stations).where(eq(stations.id, id)).for('update');
  if (!station) throw notFound(`station ${id}`);
  return station;
}

async function refuseWhileBusy(tx: Executor, stationId: number): Promise<void> {
  const [sitting] = await tx.select().from(sittings).where(eq(sittings.stationId, stationId)).orderBy(desc(sittings.id)).limit(1);
  if (sitting && isRunning(sitting.state)) throw new UserError(`Station ${stationId} is reading. Pause or stop it first; what was read is kept.`);
  const [returning] = await tx.select().from(returns).where(and(eq(returns.stationId, stationId), inArray(returns.state, ['waiting', 'writing', 'held'])));
  if (returning) throw new UserError(`Station ${stationId} is writing. Wait until it is proved.`);
}

/**
 * Notes that a medium is in a station's drive. At a simulated bench its hand puts it there: the disk from the shelf
 * that carries the medium's code, or the one that `shelfLabel` names.
 */
export async function placeMedium(db: Database, operatorId: number, stationId: number, code: string, shelfLabel?: string): Promise<void> {
  await db.transaction(async (tx) => {
    const station = await stationRow(tx, stationId);
    await refuseWhileBusy(tx, stationId);
    const [medium] = await tx.select().from(media).where(eq(media.code, storable(code)));
    if (!medium) throw notFound(`medium ${code}`);
    if (medium.treatFirst) throw treatItFirst(medium.code);
    if (medium.form !== station.form) throw new UserError(`${code} does not fit station ${stationId}: its drive takes ${station.form === '3.5' ? '3½' : station.form}-inch disks.`);
    const [elsewhere] = await tx.select().from(stations).where(eq(stations.mediumId, medium.id));
    if (elsewhere && elsewhere.id !== stationId) throw new UserError(`${code} is in station ${elsewhere.id}. Take it out there first.`);
    if (station.mediumId && station.mediumId !== medium.id) throw new UserError(`Another medium is in station ${stationId}. Take it out first.`);
    await withBench(async (bench) => {
      if (bench.simulated) await bench.hand({ op: 'hand-insert', drive: station.drive, label: shelfLabel ?? code });
      const status = await bench.status(station.drive);
      if (!status.medium) throw new UserError(`Station ${stationId} has no disk in its drive. Put ${code} in and try again.`);
    });
    await tx.update(stations).set({ mediumId: medium.id }).where(eq(stations.id, stationId));
    await note(tx, { operatorId, kind: 'placed', mediumId: medium.id, stationId, what: `${code} put in station ${stationId}.` });
    await announce(tx, { kind: 'stations' });
  });
}

export async function removeMedium(db: Database, operatorId: number, stationId: number): Promise<void> {
  await db.transaction(async (tx) => {
    const station = await stationRow(tx, stationId);
    await refuseWhileBusy(tx, stationId);
    await withBench(async (bench) => {
      if (bench.simulated) await bench.hand({ op: 'hand-remove', drive: station.drive });
    });
    await tx.update(stations).set({ mediumId: null }).where(eq(stations.id, stationId));
    if (station.mediumId) await note(tx, { operatorId, kind: 'removed', mediumId: station.mediumId, stationId, what: `Taken out of station ${stationId}.` });
    await announce(tx, { kind: 'stations' });
  });
}

export async function cleanHead(db: Database, operatorId: number, stationId: number): Promise<void> {
  await db.transaction(async (tx) => {
    const station = await stationRow(tx, stationId);
    if (station.mediumId) throw new UserError(`Take the disk out of station ${stationId} first: the head can't be reached.`);
    await withBench(async (bench) => {
      if (bench.simulated) await bench.hand({ op: 'hand-clean', drive: station.drive });
    });
    await tx.update(stations).set({ readingsSinceCleaning: 0 }).where(eq(stations.id, stationId));
    await note(tx, { operatorId, kind: 'cleaned', stationId, what: `Head of station ${stationId} cleaned.` });
    await announce(tx, { kind: 'stations' });
  });
}

/** Disks on a simulated bench's shelf; nothing at a real one. */
export async function shelfItems() {
  return withBench(async (bench) => (bench.simulated ? bench.shelf() : []));
}
