/**
 * What a sitting keeps of its tracks: readings in the capture or as a drive told them, each track's
 * progress, and the sealed capture (docs/formats.md, the flux container).
 */
import { and, asc, eq, sql } from 'drizzle-orm';
import type { TrackDriveDescription } from '@/benchlink/messages';
import { toHex } from '@/core/digester';
import {
  ContainerWriter,
  encodeReading,
  encodeTrailer,
  type ContainerHeader,
} from '@/core/flux/container';
import { ContainerReader } from '@/core/flux/container-reader';
import type { TrackReading } from '@/core/flux/reading';
import { digestOfTrack } from '@/core/image/track-digests';
import { tracksOfImage, type Layout } from '@/core/layout/layout';
import type { TrackDecode } from '@/core/reading/decode/track-decoder';
import { leavesDirt } from '@/core/reading/plan/head-care';
import type { TrackProgress } from '@/core/reading/plan/plan';
import type { SectorMark } from '@/core/reading/sector-mark';
import { nodeDigester } from '@/node/digester';
import { appendBlob, createBlob, sealBlob } from '@/server/platform/blobs/blob-store';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { streamBlob } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import type { JobContext } from '@/server/platform/jobs/engine';
import type { media } from '../../media/tables';
import { stations } from '../../stations/tables';
import type { Readings } from './decoded-readings';
import type { Sitting } from '../sitting-run';
import { controllerTracks, trackReadings, tracks as tracksTable } from '../tables';

/** A new capture, with its header. */
export async function beginCapture(
  tx: Executor,
  { tickHz, form, rpm, cylinders, heads }: TrackDriveDescription,
  { code, title }: typeof media.$inferSelect,
): Promise<string> {
  const blob = await createBlob(tx);
  const header: ContainerHeader = {
    tickHz,
    form,
    rpm,
    cylinders,
    heads,
    label: `${code} ${title}`,
    created: new Date().toISOString(),
  };
  await appendBlob(tx, blob, new ContainerWriter(nodeDigester).header(header));
  return blob;
}

export async function keepReading(
  tx: Executor,
  { id, stationId, captureBlob }: Sitting,
  marks: (typeof media.$inferSelect)['marks'],
  { cylinder, head, pass }: { cylinder: number; head: number; pass: number },
  { flux: [reading], controller: [toldTrack] }: Readings,
): Promise<void> {
  if (reading) {
    const bytes = encodeReading(reading);
    const offset = await appendBlob(tx, captureBlob!, bytes);
    await tx
      .insert(trackReadings)
      .values({ sittingId: id, cylinder, head, pass, offset, length: bytes.length });
  }
  if (toldTrack) {
    const { data, ...controller } = toldTrack;
    await tx
      .insert(controllerTracks)
      .values({ sittingId: id, cylinder, head, pass, controller, data });
  }
  // Counted with each reading: a sitting that is put aside, or goes on after a cleaning, has left
  // its dirt all the same.
  const sheds = Number(leavesDirt(marks));
  await tx
    .update(stations)
    .set({
      readingsSinceCleaning: sql`${stations.readingsSinceCleaning} + 1`,
      sheddingSinceCleaning: sql`${stations.sheddingSinceCleaning} + ${sheds}`,
    })
    .where(eq(stations.id, stationId));
}

/** How far a track is, with what its sectors show; its digest where all of it is sound. */
export function keepTrack(
  tx: Executor,
  sittingId: number,
  { cylinder, head, sectors: decoded }: TrackDecode,
  { layout, stepping }: { layout: Layout | null; stepping: 1 | 2 },
  { sectors, progress }: { sectors: SectorMark[]; progress: TrackProgress },
): Promise<unknown> {
  const place =
    layout &&
    tracksOfImage(layout).find(
      (each) => each.cylinder * stepping === cylinder && each.head === head,
    );
  const digest =
    place && progress.unsound === 0 ? digestOfTrack(place, decoded, nodeDigester) : null;
  const values = { progress, sectors, digest, updatedAt: new Date() };
  return tx
    .insert(tracksTable)
    .values({ sittingId, cylinder, head, ...values })
    .onConflictDoUpdate({
      target: [tracksTable.sittingId, tracksTable.cylinder, tracksTable.head],
      set: values,
    });
}

/** What was read of this track before: flux from the capture, and what a drive told. */
export async function earlierReadings(
  db: Executor,
  { id, captureBlob }: Sitting,
  cylinder: number,
  head: number,
): Promise<Readings> {
  const [rows, toldRows] = await Promise.all([
    db
      .select()
      .from(trackReadings)
      .where(
        and(
          eq(trackReadings.sittingId, id),
          eq(trackReadings.cylinder, cylinder),
          eq(trackReadings.head, head),
        ),
      )
      .orderBy(asc(trackReadings.id)),
    db
      .select()
      .from(controllerTracks)
      .where(
        and(
          eq(controllerTracks.sittingId, id),
          eq(controllerTracks.cylinder, cylinder),
          eq(controllerTracks.head, head),
        ),
      )
      .orderBy(asc(controllerTracks.id)),
  ]);
  const flux: TrackReading[] = [];
  for (const { offset, length } of rows) {
    const reader = new ContainerReader((reading) => flux.push(reading), null);
    for await (const part of streamBlob(db, captureBlob!, offset, offset + length))
      reader.push(part);
    reader.end();
  }
  return { flux, controller: toldRows.map(({ controller, data }) => ({ ...controller, data })) };
}

/** Ends a sitting's capture with its trailer and fixes its digest; once. */
export async function sealCapture(
  { db, commit }: JobContext,
  { id, captureBlob }: Sitting,
): Promise<void> {
  if (!captureBlob || (await blobOf(db, captureBlob)).sha256) return;
  // Of what stands before the trailer, which says it, and of all.
  const [before, whole] = [nodeDigester.sha256Stream(), nodeDigester.sha256Stream()];
  for await (const part of streamBlob(db, captureBlob)) {
    before.update(part);
    whole.update(part);
  }
  const [{ count } = { count: 0 }] = await db
    .select({ count: sql<number>`count(*)::int` })
    .from(trackReadings)
    .where(eq(trackReadings.sittingId, id));
  const trailer = encodeTrailer(count, before.digest());
  whole.update(trailer);
  await commit(async (tx) => {
    await appendBlob(tx, captureBlob, trailer);
    await sealBlob(tx, captureBlob, toHex(whole.digest()));
  });
}
