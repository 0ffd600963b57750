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
