/** The job that writes an image back: by tracks or by blocks, as its target takes it. */
import { eq } from 'drizzle-orm';
import { isBlockForm } from '@/core/medium-form';
import { said, type Said } from '@/core/said';
import { blobSource, readBlob } from '@/server/platform/blobs/read-blob';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { fairCopies } from '../copies/tables';
import { layoutOfCopy } from '../layouts/layouts';
import { media } from '../media/tables';
import { stations } from '../stations/tables';
import { BlockWriteback } from './block-writeback';
import { sealCertificate } from './certificates';
import { writebacks } from './tables';
import { TrackWriteback } from './track-writeback';
import { captureToWriteBack } from './tracks-to-write';
import type { WritebackRun } from './writeback-run';
import { endWriteback, type WritebackFacts } from './writeback-state';

/** Writes and proves; what ended is certified before the job does, also where it ended before. */
export async function runWriteback(context: JobContext<'writeback'>): Promise<JobOutcome> {
  const { db, payload } = context;
  const outcome = await writeAndProve(context);
  const [row] = await db
    .select({ endedAt: writebacks.endedAt })
    .from(writebacks)
    .where(eq(writebacks.id, payload.writebackId));
  if (row?.endedAt) await sealCertificate(db, payload.writebackId);
  return outcome;
}

const findWriteback = async ({ db, payload }: JobContext<'writeback'>): Promise<Found | null> => {
  const [found] = await db
    .select()
    .from(writebacks)
    .innerJoin(fairCopies, eq(fairCopies.id, writebacks.fairCopyId))
    .innerJoin(media, eq(media.id, writebacks.targetId))
    .innerJoin(stations, eq(stations.id, writebacks.stationId))
    .where(eq(writebacks.id, payload.writebackId));
  return found ?? null;
};

const factsOf = (found: Found): WritebackFacts => ({
  row: found.writebacks,
  target: found.media,
  sourceId: found.fair_copies.mediumId,
});

const hasEnded = ({ writebacks: { state } }: Found): boolean =>
  ['proved', 'unproved', 'failed'].includes(state);

/** It failed, and is certified so: its station is free. */
export async function giveUpWriteback(context: JobContext<'writeback'>, why: Said): Promise<void> {
  const found = await findWriteback(context);
  if (!found || hasEnded(found)) return;
  await endWriteback(context, factsOf(found), 'failed', why);
  await sealCertificate(context.db, context.payload.writebackId);
}

async function writeAndProve(context: JobContext<'writeback'>): Promise<JobOutcome> {
  const found = await findWriteback(context);
  if (!found || hasEnded(found) || found.writebacks.state === 'asks') return 'done';
  const facts = factsOf(found);
  const failed = async (now: Said): Promise<JobOutcome> => {
    await endWriteback(context, facts, 'failed', now);
    return 'done';
  };
  if (!found.media.isBlank || found.stations.mediumId !== found.media.id)
    return failed(
      said('writebacks.isNoLongerIn', { code: found.media.code, id: found.stations.id }),
    );
  const run = await runFor(context, found, facts);
  return run ? run.run() : failed(said('writebacks.theImageHasNo'));
}

interface Found {
  writebacks: typeof writebacks.$inferSelect;
  fair_copies: typeof fairCopies.$inferSelect;
  media: typeof media.$inferSelect;
  stations: typeof stations.$inferSelect;
}

/** By blocks or by tracks, as the target takes it; null where the image's layout is not known. */
async function runFor(
  context: JobContext,
  { writebacks: { from }, fair_copies: copy, media: target, stations: { drive } }: Found,
  facts: WritebackFacts,
): Promise<WritebackRun | null> {
  const { db } = context;
  if (isBlockForm(target.form))
    return new BlockWriteback(context, facts, drive, await blobSource(db, copy.imageBlob));
  const layout = await layoutOfCopy(db, copy);
  if (!layout) return null;
  const image = await readBlob(db, copy.imageBlob);
  const capture = from === 'flux' ? await captureToWriteBack(db, copy.captureBlob) : null;
  return new TrackWriteback(context, { ...facts, layout, image, capture }, drive);
}
