/** The job that reads a medium: by tracks or by blocks, as its drive delivers. */
import { eq } from 'drizzle-orm';
import { said, type Said } from '@/core/said';
import { readsBlocks } from '@/core/drive-abilities';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { media } from '../media/tables';
import { stations } from '../stations/tables';
import { BlockSitting } from './blocks/block-sitting';
import type { SittingOf } from './sitting-run';
import { pauseSitting } from './sitting-state';
import { sittings } from './tables';
import { TrackSitting } from './tracks/track-sitting';

/** It rests; what was read is kept, and a person goes on with it or settles it. */
export async function giveUpSitting(
  { db, commit, payload }: JobContext<'sitting'>,
  why: Said,
): Promise<void> {
  const [row] = await db.select().from(sittings).where(eq(sittings.id, payload.sittingId));
  if (!row || row.state === 'done') return;
  // What want of room stopped goes on once there is some, however it came to be wanting.
  const isForRoom = why.code === said('platform.theDiskIsFull').code;
  await pauseSitting(commit, row, isForRoom ? said('platform.pausedForRoom') : why);
}

export async function runSitting(context: JobContext<'sitting'>): Promise<JobOutcome> {
  const [row] = await context.db
    .select()
    .from(sittings)
    .innerJoin(media, eq(media.id, sittings.mediumId))
    .innerJoin(stations, eq(stations.id, sittings.stationId))
    .where(eq(sittings.id, context.payload.sittingId));
  if (!row || row.sittings.state === 'done') return 'done';
  const about: SittingOf = { sitting: row.sittings, medium: row.media, station: row.stations };
  const Run = readsBlocks(row.stations.abilities) ? BlockSitting : TrackSitting;
  return new Run(context, about).run();
}
