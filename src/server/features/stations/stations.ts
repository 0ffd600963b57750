/** Stations: which drive stands where, what is in it, and who is at work there. */
import { nowTold, tell, tellIfAny } from '@/messages/tell';
import { and, asc, eq, inArray, isNull, sql } from 'drizzle-orm';
import { readsBlocks } from '@/core/drive-abilities';
import { type DriveDescription } from '@/benchlink/messages';
import type { Database, Executor } from '@/server/platform/db/database';
import { cleaningDue } from '@/core/reading/plan/head-care';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { sittings, stacks, tracks } from '../sittings/tables';
import { selfTests, stations } from './tables';
import { writebackQueue, writebacks } from '../writebacks/tables';
import { announce } from '@/server/platform/events';
import { allowedDevices } from '@/server/platform/devices/allowed';
import { isLocal } from '@/server/platform/devices/links';
import { LocalLink } from '@/server/platform/devices/local-link';
import { extentsOf, packed } from '../sittings/blocks/block-sittings';
import { withBench } from './drive-hands';

/** Brings the stations up to date with the drives that the bench has. */
export async function syncStations(db: Database): Promise<void> {
  const own = await new LocalLink().drives();
  // Devices of the server itself are there without a bench as well.
  const drives = await withBench((bench) => bench.drives()).catch((error) => {
    if (own.length > 0) return [];
    throw error;
  });
  await db.transaction(async (tx) => {
    for (const [at, drive] of drives.entries()) {
      const facts = factsOf(drive);
      await tx
        .insert(stations)
        .values({ id: at + 1, ...facts })
        .onConflictDoUpdate({ target: stations.id, set: facts });
    }
    const known = await tx.select({ id: stations.id, drive: stations.drive }).from(stations);
    let next = Math.max(FIRST_LOCAL - 1, ...known.map(({ id }) => id)) + 1;
    for (const drive of own) {
      const there = known.find((each) => each.drive === drive.id);
      if (there) await tx.update(stations).set(factsOf(drive)).where(eq(stations.id, there.id));
      else await tx.insert(stations).values({ id: next++, ...factsOf(drive) });
    }
    await announce(tx, { kind: 'stations' });
  });
}

/** Stations of the server's own devices are numbered from here, behind those of any bench. */
const FIRST_LOCAL = 21;

function factsOf(drive: DriveDescription) {
  const { id, form, model, serial, writes } = drive;
  return {
    drive: id,
    form,
    model,
    serial,
    abilities:
      drive.delivers === 'blocks'
        ? { bus: drive.bus, speeds: drive.speeds, delivers: drive.delivers, writes }
        : {
            cylinders: drive.cylinders,
            heads: drive.heads,
            rpm: drive.rpm,
            delivers: drive.delivers,
            writes,
          },
  };
}

const RUNNING = ['waiting', 'reading', 'asks', 'dirty', 'paused', 'held', 'settling'] as const;

/** What goes on at these stations, a query each for all of them. */
async function aboutStations(db: Executor, ids: readonly number[]) {
  const live = await db
    .select()
    .from(sittings)
    .where(and(inArray(sittings.stationId, [...ids]), inArray(sittings.state, [...RUNNING])));
  const writing = await db
    .select()
    .from(writebacks)
    .where(
      and(
        inArray(writebacks.stationId, [...ids]),
        inArray(writebacks.state, ['waiting', 'writing', 'held', 'asks']),
      ),
    );
  const marks = await marksOfSittings(live, db);
  const waiting = await queuedAt(db, ids);
  const open = await db.select().from(stacks).where(isNull(stacks.endedAt));
  const latestTests = db
    .select({ id: sql<number>`max(${selfTests.id})` })
    .from(selfTests)
    .groupBy(selfTests.stationId);
  const tests = await db.select().from(selfTests).where(inArray(selfTests.id, latestTests));
  return {
    live,
    writing,
    marks,
    queued: waiting,
    open,
    tests: tests.map(testInWords),
  };
}

const cleaningTold = (use: Parameters<typeof cleaningDue>[0]) => tellIfAny(cleaningDue(use));

const testInWords = ({ result, ...test }: typeof selfTests.$inferSelect) => ({
  ...nowTold(test),
  result: result && { ...result, findings: result.findings.map(tell) },
});

async function marksOfSittings(live: readonly { id: number }[], db: Executor) {
  return live.length > 0
    ? await db
        .select({
          sittingId: tracks.sittingId,
          cylinder: tracks.cylinder,
          head: tracks.head,
          progress: tracks.progress,
        })
        .from(tracks)
        .where(
          inArray(
            tracks.sittingId,
            live.map(({ id }) => id),
          ),
        )
    : [];
}

async function queuedAt(db: Executor, ids: readonly number[]) {
  const queued = await db
    .select({
      stationId: writebackQueue.stationId,
      code: media.code,
      trouble: writebackQueue.trouble,
    })
    .from(writebackQueue)
    .innerJoin(fairCopies, eq(fairCopies.id, writebackQueue.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(inArray(writebackQueue.stationId, [...ids]))
    .orderBy(writebackQueue.id);
  const waiting = queued.map((row) => ({ ...row, trouble: tellIfAny(row.trouble) }));
  return waiting;
}

/** A station with what goes on there. */
async function viewOf(
  db: Executor,
  station: typeof stations.$inferSelect,
  medium: typeof media.$inferSelect | null,
  { live, writing, marks, queued, open, tests }: Awaited<ReturnType<typeof aboutStations>>,
) {
  const sitting =
    live.find(({ stationId, mediumId }) => stationId === station.id && mediumId === medium?.id) ??
    null;
  const writeback = writing.find(({ stationId }) => stationId === station.id) ?? null;
  return {
    ...station,
    medium: medium && {
      id: medium.id,
      code: medium.code,
      title: medium.title,
      labelText: medium.labelText,
      lender: medium.lender,
      lot: medium.lot,
      condition: medium.condition,
      isBlank: medium.isBlank,
      isReference: medium.isReference,
    },
    cleaningDue: readsBlocks(station.abilities)
      ? null
      : cleaningTold({
          readings: station.readingsSinceCleaning,
          shedding: station.sheddingSinceCleaning,
        }),
    nextWriteback: queued.find(({ stationId }) => stationId === station.id) ?? null,
    stack: stackView(open.find(({ stationId }) => stationId === station.id)),
    test: tests.find(({ stationId }) => stationId === station.id) ?? null,
    sitting: sitting && {
      id: sitting.id,
      state: sitting.state,
      now: tell(sitting.now),
      blocks: sitting.device?.blocks ?? null,
      cylinders: sitting.policy.range ? sitting.policy.range.to + 1 : 80,
      stepping: sitting.stepping,
    },
    writeback: writeback && { id: writeback.id, state: writeback.state, now: tell(writeback.now) },
    extents: sitting?.device
      ? coarse(packed(await extentsOf(db, sitting.id)), sitting.device.blocks)
      : [],
    tracks: marks
      .filter(({ sittingId }) => sittingId === sitting?.id)
      .map(({ cylinder, head, progress }) => ({ cylinder, head, unsound: progress.unsound })),
  };
}

/** Every station with its medium, and the sitting or return that is at work on it. */
export async function listStations(db: Executor) {
  const allowed = new Set(allowedDevices().map(({ id }) => id));
  const rows = (
    await db
      .select()
      .from(stations)
      .leftJoin(media, eq(media.id, stations.mediumId))
      .orderBy(asc(stations.id))
  )
    // A device that was taken off the list is no station any more, unless something is still in it.
    .filter(
      ({ stations: { drive, mediumId } }) =>
        !isLocal(drive) || allowed.has(drive) || mediumId !== null,
    );
  const ids = rows.map(({ stations: { id } }) => id);
  if (ids.length === 0) return [];
  const about = await aboutStations(db, ids);
  return Promise.all(
    rows.map(({ stations: station, media: medium }) => viewOf(db, station, medium, about)),
  );
}

/** Runs of a miniature: what could not be seen apart is one, and shows the worst. */
const MINIATURE = 200;

function coarse(extents: readonly PackedRun[], blocks: number): PackedRun[] {
  const step = blocks / MINIATURE;
  const runs: PackedRun[] = [];
  for (const each of extents) {
    const before = runs[runs.length - 1];
    const small = each[1] - each[0] < step;
    if (before && small && each[0] - before[0] < step) {
      before[1] = each[1];
      if (each[2] === 'lost' || each[2] === 'doubtful') before[2] = each[2];
    } else runs.push([...each]);
  }
  return runs;
}

export type StationView = Awaited<ReturnType<typeof listStations>>[number];

const stackView = (stack: typeof stacks.$inferSelect | undefined) =>
  stack
    ? {
        id: stack.id,
        codes: stack.codes,
        begun: stack.begun,
        next: stack.codes[stack.begun] ?? null,
        awaits: stack.awaits,
        trouble: tellIfAny(stack.trouble),
      }
    : null;

type PackedRun = ReturnType<typeof packed>[number];

export interface Scanned {
  code: string;
  /** The station it is in, once that is confirmed; null where it is in none. */
  station: number | null;
  said: string;
}
