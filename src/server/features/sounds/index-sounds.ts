/** Makes the sounds of a fair copy findable: a job after each copy with volumes that hold some. */
import { eq } from 'drizzle-orm';
import { digestedSounds } from '@/core/sound/digested-sounds';
import { nodeDigester } from '@/node/digester';
import { blobSource } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { announce } from '@/server/platform/events';
import type { JobContext, JobOutcome } from '@/server/platform/jobs/engine';
import { fairCopies } from '../copies/tables';
import { fileRows } from './file-rows';
import { fileRowsOf } from './queries';
import { rateOf } from './sound-rates';
import { sounds } from './tables';

const ROWS_AT_ONCE = 500;

type NewSound = typeof sounds.$inferInsert;
type Copy = Pick<typeof fairCopies.$inferSelect, 'id' | 'mediumId' | 'imageBlob' | 'imageBytes'>;

/** Null where nobody wants it any more. */
async function sampleRows(
  db: Executor,
  { id, mediumId, imageBlob }: Copy,
  signal: AbortSignal,
): Promise<NewSound[] | null> {
  const rows: NewSound[] = [];
  const filesAt = new Map<number, Awaited<ReturnType<typeof fileRowsOf>>>();
  const source = await blobSource(db, imageBlob);
  const digested = digestedSounds(source, nodeDigester, await rateOf(db, mediumId));
  for await (const { offset, folder, sample, pcmSha256 } of digested) {
    if (signal.aborted) return null;
    const files = filesAt.get(offset) ?? (await fileRowsOf(db, id, offset));
    filesAt.set(offset, files);
    const file = files.get(sample.position);
    if (!file) continue;
    rows.push({
      fairCopyId: id,
      fileId: file.id,
      folder: sanitizeText(folder.join(' / ')),
      name: sanitizeText(sample.name),
      seconds: sample.rateHz > 0 ? sample.frames / sample.rateHz : 0,
      rateHz: sample.rateHz,
      rootNote: sample.rootNote,
      isLooped: sample.loops.length > 0,
      pcmSha256,
      listed: sample,
    });
  }
  return rows;
}

/** Done again, it makes the same rows anew. */
export async function runIndexSounds({
  db,
  commit,
  signal,
  payload: { fairCopyId },
}: JobContext<'sounds'>): Promise<JobOutcome> {
  const [copy] = await db.select().from(fairCopies).where(eq(fairCopies.id, fairCopyId));
  if (!copy) return 'done';
  const samples = await sampleRows(db, copy, signal);
  const own = samples && (await fileRows(db, copy, signal));
  if (!own) return 'again';
  const rows = [...samples, ...own];
  await commit(async (tx) => {
    await tx.delete(sounds).where(eq(sounds.fairCopyId, fairCopyId));
    for (let at = 0; at < rows.length; at += ROWS_AT_ONCE)
      await tx.insert(sounds).values(rows.slice(at, at + ROWS_AT_ONCE));
    await announce(tx, { kind: 'media' });
  });
  return 'done';
}
