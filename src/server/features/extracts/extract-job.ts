/** Makes the ZIP of an extract, medium by medium; a worker that takes it over begins anew. */
import { eq } from 'drizzle-orm';
import { UniqueNames } from '@/core/volume/unique-names';
import { appendBlob, createBlob, dropGrowing, sealBlob } from '@/server/platform/blobs/blob-store';
import { extracts } from './tables';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { isTakenUpAgain, type JobContext, type JobOutcome } from '@/server/platform/jobs/engine';
import { imageOfCopy, isAlone } from '../copies/image-of-copy';
import { filesOfCopy, manifestMember, type OutgoingFiles } from '../copies/files-of-copy';
import { note } from '../ledger/ledger';
import { refuseQuarantined } from '../signatures/signatures';
import { ThreadedHash } from '@/server/platform/threads/threaded-hash';
import { refuseTooMuch, zipOf, type ZipMember } from '@/server/platform/http/zip';
import { said, type Said } from '@/core/said';
import { Database } from '@/server/platform/db/database';

/** Bytes put away at once, and milliseconds between two looks whether it is still wanted. */
const PART = 4 << 20;
const LOOK_MS = 300;

class GivenUp extends Error {}

export async function runExtract(context: JobContext<'extract'>): Promise<JobOutcome> {
  const { db, commit, signal, payload } = context;
  const id = payload.extractId;
  const [row] = await db.select().from(extracts).where(eq(extracts.id, id));
  if (!row || (row.state !== 'waiting' && row.state !== 'running')) return 'done';
  const giveUp = (state: 'failed' | 'cancelled', now: Said) =>
    commit(async (tx) => {
      const [before] = await tx
        .select({ blobId: extracts.blobId })
        .from(extracts)
        .where(eq(extracts.id, id));
      await tx
        .update(extracts)
        .set({ state, now, endedAt: new Date(), blobId: null })
        .where(eq(extracts.id, id));
      if (before?.blobId) await dropGrowing(tx, before.blobId);
      await announce(tx, { kind: 'extracts' });
    });
  try {
    return await makeZip(context, row);
  } catch (error) {
    if (error instanceof GivenUp) await giveUp('cancelled', said('extracts.givenUpNothingOf'));
    else if (error instanceof UserError) await giveUp('failed', error.said);
    else {
      if (isTakenUpAgain(error, signal)) throw error;
      await giveUp('failed', said('extracts.someOfItCant', { message: (error as Error).message }));
      throw error;
    }
    return 'done';
  }
}

/** The bytes of the first member, which is all there is. */
async function* firstOf(members: AsyncGenerator<ZipMember>): AsyncGenerator<Uint8Array> {
  const { value } = await members.next();
  if (value) yield* (value as ZipMember).bytes;
  // Counted as done by going on to the next.
  await members.next();
}

async function makeZip(
  { db, commit, signal, payload: { extractId: id } }: JobContext<'extract'>,
  row: typeof extracts.$inferSelect,
): Promise<JobOutcome> {
  const names = new UniqueNames();
  const outgoing: { code: string; files: OutgoingFiles }[] = [];
  await outgoingFiles(row, db, outgoing, names);
  const sumOf = (of: (files: OutgoingFiles) => number) =>
    outgoing.reduce((sum, { files }) => sum + of(files), 0);
  const alone = isAlone(row);
  if (!alone)
    refuseTooMuch(
      sumOf(({ mostMembers }) => mostMembers),
      sumOf(({ bytes }) => bytes),
    );
  let done = 0;
  let at = '';
  async function* members(): AsyncGenerator<ZipMember> {
    for (const { code, files } of outgoing) {
      at = code;
      for await (const member of files.members()) {
        yield member;
        if (!member.beside) done++;
      }
    }
    yield manifestMember(
      'manifest.json',
      outgoing.map(({ files }) => files.manifest),
    );
  }
  const blob = await commit(async (tx) => {
    const fresh = await createBlob(tx);
    await tx
      .update(extracts)
      .set({
        state: 'running',
        filesInAll: sumOf(({ count }) => count),
        filesDone: 0,
        blobId: fresh,
      })
      .where(eq(extracts.id, id));
    // What a worker left that was stopped is begun anew.
    if (row.blobId) await dropGrowing(tx, row.blobId);
    return fresh;
  });
  let parts: Uint8Array[] = [];
  let size = 0;
  let looked = 0;
  const hash = new ThreadedHash();
  const putAway = () =>
    commit(async (tx) => {
      const bytes = Buffer.concat(parts);
      await Promise.all([hash.update(bytes), appendBlob(tx, blob, bytes)]);
      const [now] = await tx
        .update(extracts)
        .set({
          filesDone: done,
          now: at
            ? said('extracts.takingOutOf', {
                ofImages: row.what === 'images',
                at,
              })
            : said('extracts.beginning'),
        })
        .where(eq(extracts.id, id))
        .returning({ cancelled: extracts.cancelled });
      await announce(tx, { kind: 'extracts' });
      parts = [];
      size = 0;
      looked = Date.now();
      if (now?.cancelled) throw new GivenUp();
    });
  let sha256: string;
  try {
    for await (const part of alone ? firstOf(members()) : zipOf(members())) {
      if (signal.aborted) return 'again';
      parts.push(part);
      size += part.length;
      if (size >= PART || Date.now() - looked > LOOK_MS) await putAway();
    }
    await putAway();
    sha256 = await hash.digest();
  } finally {
    hash.drop();
  }
  const now = said('extracts.ofMediaTakenOut', {
    done,
    ofImages: row.what === 'images',
    media: outgoing.length,
    asZip: !alone,
    isPacked: row.packed,
    inQuarantine: row.acknowledgesQuarantine,
  });
  await commit(async (tx) => {
    await sealBlob(tx, blob, sha256);
    await tx
      .update(extracts)
      .set({ state: 'done', now, endedAt: new Date() })
      .where(eq(extracts.id, id));
    await note(tx, { operatorId: row.startedBy, kind: 'extracted', what: now });
    await announce(tx, { kind: 'extracts' });
  });
  return 'done';
}

async function outgoingFiles(
  row: typeof extracts.$inferSelect,
  db: Database,
  outgoing: { code: string; files: OutgoingFiles }[],
  names: UniqueNames,
) {
  for (const copyId of row.fairCopyIds) {
    const [found] = await db
      .select()
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(fairCopies.id, copyId));
    // A signature may have been found in it since it was asked for.
    await refuseQuarantined(db, copyId, row.acknowledgesQuarantine);
    if (found)
      outgoing.push({
        code: found.media.code,
        files:
          row.what === 'images'
            ? await imageOfCopy(db, found.fair_copies, found.media, row.packed, names)
            : await filesOfCopy(
                db,
                found.fair_copies,
                found.media.code,
                { prefix: `${found.media.code}/`, asText: row.asText },
                names,
              ),
      });
  }
}
