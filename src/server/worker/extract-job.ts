/** Makes the ZIP of an extract, medium by medium; a worker that takes it over begins anew. */
import { eq } from 'drizzle-orm';
import { UniqueNames } from '@/core/volume/unique-names';
import { appendBlob, createBlob, dropGrowing, sealBlob } from '../blobs/blob-store';
import { extracts, fairCopies, media } from '../db/schema';
import { UserError } from '../errors';
import { announce } from '../events';
import type { JobContext, JobOutcome } from '../jobs/runner';
import { filesOfCopy, manifestMember, type OutgoingFiles } from '../services/files-of-copy';
import { note } from '../services/ledger';
import { refuseTooMuch, zipOf, type ZipMember } from '../zip';

/** Bytes put away at once, and milliseconds between two looks whether it is still wanted. */
const PART = 1 << 20;
const LOOK_MS = 300;

class GivenUp extends Error {}

export async function runExtract({ db, commit, signal, subject: id }: JobContext): Promise<JobOutcome> {
  const [row] = await db.select().from(extracts).where(eq(extracts.id, id));
  if (!row || (row.state !== 'waiting' && row.state !== 'running')) return 'done';
  const end = (state: 'done' | 'failed' | 'cancelled', now: string) => commit(async (tx) => {
    const [before] = await tx.select({ blobId: extracts.blobId }).from(extracts).where(eq(extracts.id, id));
    await tx.update(extracts).set({ state, now, endedAt: new Date(), ...(state !== 'done' && { blobId: null }) }).where(eq(extracts.id, id));
    if (state !== 'done' && before?.blobId) await dropGrowing(tx, before.blobId);
    if (state === 'done') await note(tx, { operatorId: row.startedBy, kind: 'extracted', what: now });
    await announce(tx, { kind: 'extracts' });
  });
  const names = new UniqueNames();
  const outgoing: { code: string; files: OutgoingFiles }[] = [];
  for (const copyId of row.fairCopyIds) {
    const [found] = await db.select().from(fairCopies).innerJoin(media, eq(media.id, fairCopies.mediumId)).where(eq(fairCopies.id, copyId));
    if (found) outgoing.push({ code: found.media.code, files: await filesOfCopy(db, found.fair_copies, found.media.code, { prefix: `${found.media.code}/`, asText: row.asText }, names) });
  }
  const inAll = outgoing.reduce((sum, { files }) => sum + files.count, 0);
  try {
    refuseTooMuch(inAll, outgoing.reduce((sum, { files }) => sum + files.bytes, 0));
  } catch (error) {
    await end('failed', (error as UserError).message);
    return 'done';
  }
  let done = 0;
  let at = '';
  async function* members(): AsyncGenerator<ZipMember> {
    for (const { code, files } of outgoing) {
      at = code;
      for await (const member of files.members()) {
        yield member;
        done++;
      }
    }
    yield manifestMember('manifest.json', outgoing.map(({ files }) => files.manifest));
  }
  const blob = await commit(async (tx) => {
    const fresh = await createBlob(tx);
    await tx.update(extracts).set({ state: 'running', filesInAll: inAll, filesDone: 0, blobId: fresh }).where(eq(extracts.id, id));
    // What a worker left that was stopped is begun anew.
    if (row.blobId) await dropGrowing(tx, row.blobId);
    return fresh;
  });
  let parts: Uint8Array[] = [];
  let size = 0;
  let looked = 0;
  const putAway = () => commit(async (tx) => {
    if (size > 0) await appendBlob(tx, blob, Buffer.concat(parts));
    const [now] = await tx.update(extracts).set({ filesDone: done, now: at ? `Taking files out of ${at}` : 'Beginning' }).where(eq(extracts.id, id)).returning({ cancelled: extracts.cancelled });
    await announce(tx, { kind: 'extracts' });
    parts = [];
    size = 0;
    looked = Date.now();
    if (now?.cancelled) throw new GivenUp();
  });
  try {
    for await (const part of zipOf(members())) {
      if (signal.aborted) return 'again';
      parts.push(part);
      size += part.length;
      if (size >= PART || Date.now() - looked > LOOK_MS) await putAway();
    }
    await putAway();
    await commit((tx) => sealBlob(tx, blob));
    await end('done', `${done.toLocaleString('en')} files of ${outgoing.length} ${outgoing.length === 1 ? 'medium' : 'media'} taken out as one ZIP.`);
  } catch (error) {
    if (!(error instanceof GivenUp)) throw error;
    await end('cancelled', 'Given up; nothing of it is kept.');
  }
  return 'done';
}
