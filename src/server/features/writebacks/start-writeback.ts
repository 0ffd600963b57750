/** Begins a write-back, where the machine, the blank and the drive allow it. */
import { and, eq } from 'drizzle-orm';
import { z } from 'zod';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { writebacks } from './tables';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { enqueue, stationResource } from '@/server/platform/jobs/enqueue';
import { WRITEBACK_SOURCES } from '@/server/states';
import { machineFindings, mediumFindings } from './writeback-check';
import { lockStation, refuseWhileBusy } from '../stations/station-use';
import { note } from '../ledger/ledger';
import { said } from '@/core/said';

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

export type Wish = Omit<z.output<typeof WritebackRequest>, 'count'>;

/**
 * Begins to write to the blank that is in a station, in the caller's transaction; refuses what
 * can't go well.
 */
export async function startWritebackIn(
  tx: Executor,
  operatorId: number,
  { fairCopyId, stationId, from, machine, precompensate }: Wish,
): Promise<number> {
  const [copy] = await tx
    .select()
    .from(fairCopies)
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(eq(fairCopies.id, fairCopyId));
  if (!copy) throw notFound(said('platform.suchFairCopy'));
  const station = await lockStation(tx, stationId);
  if (!station.mediumId) throw new UserError(said('writebacks.stationIsEmptyPut', { stationId }));
  const [target] = await tx.select().from(media).where(eq(media.id, station.mediumId));
  if (!target!.isBlank)
    throw new UserError(said('writebacks.inStationIsAn', { code: target!.code, stationId }));
  if (from === 'flux' && (!copy.fair_copies.captureBlob || copy.fair_copies.blocks))
    throw new UserError(said('writebacks.thereIsNoFlux'));
  await refuseWhileBusy(tx, stationId);
  const [asking] = await tx
    .select({ id: writebacks.id })
    .from(writebacks)
    .where(and(eq(writebacks.stationId, stationId), eq(writebacks.state, 'asks')));
  if (asking) throw new UserError(said('writebacks.aWriteBackAt', { stationId }));
  if (station.abilities && !station.abilities.writes)
    throw new UserError(said('writebacks.theDriveOfStation', { stationId, code: target!.code }));
  const stops = [
    ...(await mediumFindings(tx, copy.fair_copies, target!, station)),
    ...(await machineFindings(tx, copy.fair_copies, machine)),
  ].filter(({ weight }) => weight === 'stops');
  if (stops.length > 0)
    throw new UserError(
      said('writebacks.nothingWasWritten', {
        stops: stops.map(({ sentence }) => sentence),
      }),
    );
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
      now: said('platform.waitingForAWorker'),
      startedBy: operatorId,
    })
    .returning({ id: writebacks.id });
  await note(tx, {
    operatorId,
    kind: 'writeback-started',
    mediumId: copy.media.id,
    stationId,
    writebackId: row!.id,
    what: said('writebacks.writeBackOfTo', {
      code: copy.media.code,
      isFlux: from === 'flux',
      target: target!.code,
      stationId,
    }),
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
