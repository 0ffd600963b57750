/** Stations: which drive stands where, what is in it, and who is at work there. */
import { and, asc, eq, inArray, isNull, sql } from 'drizzle-orm';
import { BenchClient } from '@/benchlink/client';
import type { DeviceLink } from '@/benchlink/device-link';
import { readsBlocks } from '@/core/drive-abilities';
import { DeviceError, type DriveDescription } from '@/benchlink/messages';
import { FORM_NAMES, isBlockForm } from '@/core/medium-form';
import type { Database, Executor } from '@/server/platform/db/database';
import { cleaningDue } from '@/core/reading/head-care';
import { afterCleaning } from '@/core/reading/plan';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { sittings, stacks, tracks } from '../sittings/tables';
import { selfTests, stations } from './tables';
import { writebackQueue, writebacks } from '../writebacks/tables';
import { UserError, notFound, treatItFirst } from '@/server/platform/errors';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { announce } from '@/server/platform/events';
import { benchAddress } from '@/server/platform/devices/bench-address';
import { allowedDevices } from '@/server/platform/devices/allowed';
import { isLocal } from '@/server/platform/devices/links';
import { LocalLink } from '@/server/platform/devices/local-link';
import { note } from '../ledger/ledger';
import { extentsOf, packed } from '../sittings/block-sittings';
import { startQueued } from '../writebacks/writebacks';
import { wakeJob } from '@/server/platform/jobs/enqueue';
import { lockStation, refuseWhileBusy } from './station-use';

/** A connection for the length of `work`; a bench that is gone becomes a sentence. */
export async function withBench<T>(work: (bench: BenchClient) => Promise<T>): Promise<T> {
  const bench = await BenchClient.connect(benchAddress()).catch((error) => {
    throw new UserError(
      "The bench can't be reached. What was read is kept; switch it on, or check its " +
        'cable, and try again.',
      503,
      null,
      { cause: error },
    );
  });
  try {
    return await work(bench);
  } catch (error) {
    if (error instanceof DeviceError)
      throw new UserError(error.message, 409, null, { cause: error });
    throw error;
  } finally {
    bench.close();
  }
}

/** The same for a drive wherever it is; `hands` are there where the bench is simulated. */
async function withDrive<T>(
  drive: string,
  work: (link: DeviceLink, hands: BenchClient | null) => Promise<T>,
): Promise<T> {
  if (!isLocal(drive)) return withBench((bench) => work(bench, bench.simulated ? bench : null));
  const link = new LocalLink();
  try {
    return await work(link, null);
  } catch (error) {
    if (error instanceof DeviceError)
      throw new UserError(
        `${error.message} Check its power and its cable, and that it is on the list of ` +
          'devices that may be read.',
        409,
        null,
        { cause: error },
      );
    throw error;
  } finally {
    link.close();
  }
}

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
  const live = await db
    .select()
    .from(sittings)
    .where(and(inArray(sittings.stationId, ids), inArray(sittings.state, [...RUNNING])));
  const writing = await db
    .select()
    .from(writebacks)
    .where(
      and(
        inArray(writebacks.stationId, ids),
        inArray(writebacks.state, ['waiting', 'writing', 'held', 'asks']),
      ),
    );
  const marks =
    live.length > 0
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
  const queued = await db
    .select({
      stationId: writebackQueue.stationId,
      code: media.code,
      trouble: writebackQueue.trouble,
    })
    .from(writebackQueue)
    .innerJoin(fairCopies, eq(fairCopies.id, writebackQueue.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(inArray(writebackQueue.stationId, ids))
    .orderBy(writebackQueue.id);
  const open = await db.select().from(stacks).where(isNull(stacks.endedAt));
  const latestTests = db
    .select({ id: sql<number>`max(${selfTests.id})` })
    .from(selfTests)
    .groupBy(selfTests.stationId);
  const tests = await db.select().from(selfTests).where(inArray(selfTests.id, latestTests));
  return Promise.all(
    rows.map(async ({ stations: station, media: medium }) => {
      const sitting =
        live.find(
          ({ stationId, mediumId }) => stationId === station.id && mediumId === medium?.id,
        ) ?? null;
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
          : cleaningDue({
              readings: station.readingsSinceCleaning,
              shedding: station.sheddingSinceCleaning,
            }),
        nextWriteback: queued.find(({ stationId }) => stationId === station.id) ?? null,
        stack: stackView(open.find(({ stationId }) => stationId === station.id)),
        test: tests.find(({ stationId }) => stationId === station.id) ?? null,
        sitting: sitting && {
          id: sitting.id,
          state: sitting.state,
          now: sitting.now,
          blocks: sitting.device?.blocks ?? null,
          cylinders: sitting.policy.range ? sitting.policy.range.to + 1 : 80,
          stepping: sitting.stepping,
        },
        writeback: writeback && { id: writeback.id, state: writeback.state, now: writeback.now },
        extents: sitting?.device
          ? coarse(packed(await extentsOf(db, sitting.id)), sitting.device.blocks)
          : [],
        tracks: marks
          .filter(({ sittingId }) => sittingId === sitting?.id)
          .map(({ cylinder, head, progress }) => ({ cylinder, head, unsound: progress.unsound })),
      };
    }),
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
        trouble: stack.trouble,
      }
    : null;

type PackedRun = ReturnType<typeof packed>[number];

interface PlaceOptions {
  /** The disk of a simulated shelf that stands for it, where that has another name. */
  shelfLabel?: string;
  /** Its label was scanned at the drive: that it is the one is confirmed with it. */
  scanned?: boolean;
}

/**
 * Notes that a medium is in a station's drive. At a simulated bench its hand puts it there: the
 * disk from the shelf
 * that carries the medium's code, or the one that `shelfLabel` names.
 */
export async function placeMedium(
  db: Database,
  operatorId: number,
  stationId: number,
  code: string,
  { shelfLabel, scanned = false }: PlaceOptions = {},
): Promise<void> {
  await db.transaction(async (tx) => {
    const station = await lockStation(tx, stationId);
    await refuseWhileBusy(tx, stationId);
    const medium = await mediumFor(tx, station, code);
    if (station.mediumId && station.mediumId !== medium.id)
      throw new UserError(`Another medium is in station ${stationId}. Take it out first.`);
    await withDrive(station.drive, async (link, hands) => {
      await hands?.hand({ op: 'hand-insert', drive: station.drive, label: shelfLabel ?? code });
      const status = await link.status(station.drive);
      if (!status.medium)
        throw new UserError(
          `Station ${stationId} has no disk in its drive. Put ${code} in and try again.`,
        );
    });
    await notePlaced(tx, operatorId, stationId, medium);
    if (medium.isBlank) await startQueued(tx, stationId);
    if (scanned) await noteConfirmed(tx, operatorId, stationId, medium);
  });
}

/** The medium that is meant for a station; refuses one that does not belong there. */
export async function mediumFor(
  tx: Executor,
  station: typeof stations.$inferSelect,
  code: string,
): Promise<typeof media.$inferSelect> {
  const [medium] = await tx
    .select()
    .from(media)
    .where(eq(media.code, sanitizeText(code)));
  if (!medium) throw notFound(`medium ${code}`);
  if (medium.treatFirst) throw treatItFirst(medium.code);
  if (medium.form !== station.form)
    throw new UserError(
      `${code} does not fit station ${station.id}: its drive takes ` +
        `${isBlockForm(station.form) ? (station.form === 'hard-disk' ? 'hard disks' : 'optical discs') : `${FORM_NAMES[station.form]} disks`}.`,
    );
  const [elsewhere] = await tx.select().from(stations).where(eq(stations.mediumId, medium.id));
  if (elsewhere && elsewhere.id !== station.id)
    throw new UserError(`${code} is in station ${elsewhere.id}. Take it out there first.`);
  return medium;
}

export async function notePlaced(
  tx: Executor,
  operatorId: number,
  stationId: number,
  { id, code }: { id: number; code: string },
): Promise<void> {
  await tx
    .update(stations)
    .set({ mediumId: id, confirmedAt: null })
    .where(eq(stations.id, stationId));
  await note(tx, {
    operatorId,
    kind: 'placed',
    mediumId: id,
    stationId,
    what: `${code} put in station ${stationId}.`,
  });
  await announce(tx, { kind: 'stations' });
}

export async function removeMedium(
  db: Database,
  operatorId: number,
  stationId: number,
): Promise<void> {
  await db.transaction(async (tx) => {
    const station = await lockStation(tx, stationId);
    await refuseWhileBusy(tx, stationId);
    await withDrive(station.drive, async (_, hands) => {
      await hands?.hand({ op: 'hand-remove', drive: station.drive });
    });
    await noteRemoved(tx, operatorId, station);
  });
}

export async function noteRemoved(
  tx: Executor,
  operatorId: number,
  { id, mediumId }: Pick<typeof stations.$inferSelect, 'id' | 'mediumId'>,
): Promise<void> {
  await tx.update(stations).set({ mediumId: null, confirmedAt: null }).where(eq(stations.id, id));
  if (mediumId)
    await note(tx, {
      operatorId,
      kind: 'removed',
      mediumId,
      stationId: id,
      what: `Taken out of station ${id}.`,
    });
  await announce(tx, { kind: 'stations' });
}

/**
 * Notes that a station's head was cleaned. A sitting that found it dirty goes on by it, and reads
 * once more what failed;
 * else the drive must be empty, for with a disk in it the head can't be reached.
 */
export async function cleanHead(
  db: Database,
  operatorId: number,
  stationId: number,
): Promise<void> {
  await db.transaction(async (tx) => {
    const station = await lockStation(tx, stationId);
    // Only the sitting whose own disk is in: one that was put aside must neither go on with another
    // disk nor keep the head from being cleaned.
    const [dirty] =
      station.mediumId === null
        ? []
        : await tx
            .select()
            .from(sittings)
            .where(
              and(
                eq(sittings.stationId, stationId),
                eq(sittings.mediumId, station.mediumId),
                eq(sittings.state, 'dirty'),
              ),
            )
            .for('update');
    if (station.mediumId && !dirty)
      throw new UserError(
        `Take the disk out of station ${stationId} first: the head can't be reached.`,
      );
    await withBench(async (bench) => {
      if (bench.simulated) await bench.hand({ op: 'hand-clean', drive: station.drive });
      if (dirty && !(await bench.status(station.drive)).medium)
        throw new UserError(
          `Put the disk back into station ${stationId}, and say it once more: the sitting ` +
            'goes on with it.',
        );
    });
    await tx
      .update(stations)
      .set({ readingsSinceCleaning: 0, sheddingSinceCleaning: 0 })
      .where(eq(stations.id, stationId));
    await note(tx, {
      operatorId,
      kind: 'cleaned',
      stationId,
      sittingId: dirty?.id,
      mediumId: dirty?.mediumId,
      what: `Head of station ${stationId} cleaned after ${station.readingsSinceCleaning} readings.`,
    });
    if (dirty) {
      for (const { cylinder, head, progress } of await tx
        .select()
        .from(tracks)
        .where(eq(tracks.sittingId, dirty.id))) {
        await tx
          .update(tracks)
          .set({ progress: afterCleaning(progress) })
          .where(
            and(
              eq(tracks.sittingId, dirty.id),
              eq(tracks.cylinder, cylinder),
              eq(tracks.head, head),
            ),
          );
      }
      await tx
        .update(sittings)
        .set({ state: 'waiting', now: 'Going on with a clean head' })
        .where(eq(sittings.id, dirty.id));
      await wakeJob(tx, 'sitting', { sittingId: dirty.id });
      await announce(tx, {
        kind: 'sitting',
        sittingId: dirty.id,
        stationId,
        mediumId: dirty.mediumId,
      });
    }
    await announce(tx, { kind: 'stations' });
  });
}

async function noteConfirmed(
  tx: Executor,
  operatorId: number,
  stationId: number,
  { id, code }: { id: number; code: string },
): Promise<void> {
  await tx.update(stations).set({ confirmedAt: new Date() }).where(eq(stations.id, stationId));
  await note(tx, {
    operatorId,
    kind: 'confirmed',
    mediumId: id,
    stationId,
    what: `The label of ${code} was scanned: it is what is in station ${stationId}.`,
  });
  await announce(tx, { kind: 'stations' });
}

export interface Scanned {
  code: string;
  /** The station it is in, once that is confirmed; null where it is in none. */
  station: number | null;
  said: string;
}

/**
 * A label was scanned: where its medium should be in a drive, that it is the one is confirmed.
 * `stationId` is the station
 * that the person looks at: one that should hold another medium is named, and nothing is confirmed.
 */
export async function takeScan(
  db: Database,
  operatorId: number,
  code: string,
  stationId: number | null,
): Promise<Scanned> {
  return db.transaction(async (tx) => {
    const [medium] = await tx
      .select()
      .from(media)
      .where(eq(media.code, sanitizeText(code)));
    if (!medium) throw notFound(`medium ${code}`);
    const [station] = await tx.select().from(stations).where(eq(stations.mediumId, medium.id));
    if (stationId !== null && station?.id !== stationId) {
      const [shown] = await tx
        .select({ code: media.code })
        .from(stations)
        .innerJoin(media, eq(media.id, stations.mediumId))
        .where(eq(stations.id, stationId));
      if (shown)
        throw new UserError(
          `Station ${stationId} should hold ${shown.code}, and the label says ` +
            `${medium.code}. Look at the disk in the drive before anything is read.`,
          409,
        );
    }
    if (!station)
      return {
        code: medium.code,
        station: null,
        said: `${medium.code}, ${medium.title}: in no station.`,
      };
    await noteConfirmed(tx, operatorId, station.id, medium);
    return {
      code: medium.code,
      station: station.id,
      said: `${medium.code} is what is in station ${station.id}.`,
    };
  });
}

/** Disks on a simulated bench's shelf; nothing at a real one. */
export async function shelfItems() {
  return withBench(async (bench) => (bench.simulated ? bench.shelf() : []));
}
