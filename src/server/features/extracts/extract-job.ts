/** Makes the ZIP of an extract, medium by medium; a worker that takes it over begins anew. */
import { and, eq, isNull } from 'drizzle-orm';
import { fileNameOfCode } from '@/core/medium-code';
import { UniqueNames } from '@/core/volume/unique-names';
import { appendBlob, createBlob, dropGrowing, sealBlob } from '@/server/platform/blobs/blob-store';
import { extracts } from './tables';
import { fairCopies } from '../copies/tables';
import { media } from '../media/tables';
import { UserError } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import { isTakenUpAgain, type JobContext, type JobOutcome } from '@/server/platform/jobs/engine';
import { imageOfCopy } from '../copies/image-of-copy';
import { filesOfCopy, manifestMember, type OutgoingFiles } from '../copies/files-of-copy';
import { note } from '../ledger/ledger';
import { soundsOut } from '../sounds/sounds-out';
import { withPapers } from './papers-out';
import { refuseQuarantined } from '../signatures/signatures';
import { refuseWithoutRoom } from '@/server/platform/blobs/store-room';
import { isDiskFull } from '@/server/platform/db/disk-full';
import { ThreadedHash } from '@/server/platform/threads/threaded-hash';
import { refuseTooMuch, zipOf, type ZipMember } from '@/server/platform/http/zip';
import { said, type Said } from '@/core/said';
import { Database } from '@/server/platform/db/database';

/** Bytes put away at once, and milliseconds between two looks whether it is still wanted. */
const PART = 4 << 20;
const LOOK_MS = 300;

class GivenUp extends Error {}

/** What was made of it is dropped. */
const endUnmade = (
  { commit, payload: { extractId: id } }: JobContext<'extract'>,
  state: 'failed' | 'cancelled',
  now: Said,
): Promise<void> =>
  commit(async (tx) => {
    const [before] = await tx
      .select({ blobId: extracts.blobId })
      .from(extracts)
      .where(and(eq(extracts.id, id), isNull(extracts.endedAt)));
    if (!before) return;
    await tx
      .update(extracts)
      .set({ state, now, endedAt: new Date(), blobId: null })
      .where(eq(extracts.id, id));
    if (before.blobId) await dropGrowing(tx, before.blobId);
    await announce(tx, { kind: 'extracts' });
  });

/**
 * What was made of it so far makes room; it begins anew. On a full disk not even this may be kept: the
 * next beginning drops it then.
 */
const dropMade = ({ commit, payload: { extractId: id } }: JobContext<'extract'>): Promise<void> =>
  commit(async (tx) => {
    const [row] = await tx
      .select({ blobId: extracts.blobId })
      .from(extracts)
      .where(eq(extracts.id, id));
    await tx.update(extracts).set({ blobId: null }).where(eq(extracts.id, id));
    if (row?.blobId) await dropGrowing(tx, row.blobId);
  }).catch(() => undefined);

export const giveUpExtract = (context: JobContext<'extract'>, why: Said): Promise<void> =>
  endUnmade(context, 'failed', why);

export async function runExtract(context: JobContext<'extract'>): Promise<JobOutcome> {
  const { db, signal, payload } = context;
  const id = payload.extractId;
  const [row] = await db.select().from(extracts).where(eq(extracts.id, id));
  if (!row || (row.state !== 'waiting' && row.state !== 'running')) return 'done';
  try {
    return await makeZip(context, row);
  } catch (error) {
    if (error instanceof GivenUp)
      await endUnmade(context, 'cancelled', said('extracts.givenUpNothingOf'));
    else if (error instanceof UserError) await endUnmade(context, 'failed', error.said);
    else {
      if (isDiskFull(error)) await dropMade(context);
      if (isTakenUpAgain(error, signal)) throw error;
      const { message } = error as Error;
      await endUnmade(context, 'failed', said('extracts.someOfItCant', { message }));
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

interface Outgoing {
  code: string;
  files: OutgoingFiles;
}

const sumOf = (outgoing: readonly Outgoing[], of: (files: OutgoingFiles) => number): number =>
  outgoing.reduce((sum, { files }) => sum + of(files), 0);

/** The members of the ZIP as they are made, with how far that is. */
class Members {
  done = 0;
  /** The medium that is taken out now; empty before the first. */
  at = '';

  constructor(private readonly outgoing: readonly Outgoing[]) {}

  async *all(): AsyncGenerator<ZipMember> {
    for (const { code, files } of this.outgoing) {
      this.at = code;
      for await (const member of files.members()) {
        yield member;
        if (!member.beside) this.done++;
      }
    }
    const manifests = this.outgoing.map(({ files }) => files.manifest);
    yield manifestMember('manifest.json', manifests);
  }
}

/** The blob that the ZIP grows in; what a worker left that was stopped is begun anew. */
function beginBlob(
  { commit, payload: { extractId: id } }: JobContext<'extract'>,
  row: typeof extracts.$inferSelect,
  values: Pick<typeof row, 'filesInAll' | 'isAlone'>,
): Promise<string> {
  return commit(async (tx) => {
    const blobId = await createBlob(tx);
    await tx
      .update(extracts)
      .set({ ...values, state: 'running', filesDone: 0, blobId })
      .where(eq(extracts.id, id));
    if (row.blobId) await dropGrowing(tx, row.blobId);
    return blobId;
  });
}

/** Puts what is made away in parts, and tells how far it is with each. */
class PartsKept {
  private parts: Uint8Array[] = [];
  private size = 0;
  private looked = 0;

  constructor(
    private readonly context: JobContext<'extract'>,
    private readonly blob: string,
    private readonly hash: ThreadedHash,
    private readonly values: () => { filesDone: number; now: Said },
  ) {}

  async add(part: Uint8Array): Promise<void> {
    this.parts.push(part);
    this.size += part.length;
    if (this.size >= PART || Date.now() - this.looked > LOOK_MS) await this.putAway();
  }

  async putAway(): Promise<void> {
    const { commit, payload } = this.context;
    await commit(async (tx) => {
      const bytes = Buffer.concat(this.parts);
      await Promise.all([this.hash.update(bytes), appendBlob(tx, this.blob, bytes)]);
      const [now] = await tx
        .update(extracts)
        .set(this.values())
        .where(eq(extracts.id, payload.extractId))
        .returning({ cancelled: extracts.cancelled });
      await announce(tx, { kind: 'extracts' });
      if (now?.cancelled) throw new GivenUp();
    });
    this.parts = [];
    this.size = 0;
    this.looked = Date.now();
  }
}

const progressOf = ({ done, at }: Members, ofImages: boolean) => ({
  filesDone: done,
  now: at ? said('extracts.takingOutOf', { ofImages, at }) : said('extracts.beginning'),
});

async function makeZip(
  context: JobContext<'extract'>,
  row: typeof extracts.$inferSelect,
): Promise<JobOutcome> {
  const outgoing = await outgoingFiles(row, context.db);
  const mostMembers = sumOf(outgoing, (files) => files.mostMembers);
  const bytes = sumOf(outgoing, (files) => files.bytes);
  const isSingle = outgoing.length === 1 && outgoing[0]!.files.isAlone;
  if (!isSingle) refuseTooMuch(mostMembers, bytes);
  // What began anew since the disk was full would fill it again.
  await refuseWithoutRoom(bytes);
  const members = new Members(outgoing);
  const count = sumOf(outgoing, (files) => files.count);
  const blob = await beginBlob(context, row, { filesInAll: count, isAlone: isSingle });
  const hash = new ThreadedHash();
  const ofImages = row.what === 'images';
  const kept = new PartsKept(context, blob, hash, () => progressOf(members, ofImages));
  try {
    for await (const part of isSingle ? firstOf(members.all()) : zipOf(members.all())) {
      if (context.signal.aborted) return 'again';
      await kept.add(part);
    }
    await kept.putAway();
    const sealed = { blob, sha256: await hash.digest(), isAlone: isSingle };
    await seal(context, row, sealed, outgoing.length, members.done);
    return 'done';
  } finally {
    hash.drop();
  }
}

async function seal(
  { commit }: JobContext<'extract'>,
  row: typeof extracts.$inferSelect,
  { blob, sha256, isAlone }: { blob: string; sha256: string; isAlone: boolean },
  mediaCount: number,
  done: number,
): Promise<void> {
  const now = said('extracts.ofMediaTakenOut', {
    done,
    ofImages: row.what === 'images',
    media: mediaCount,
    asZip: !isAlone,
    isPacked: row.packed,
    inQuarantine: row.acknowledgesQuarantine,
  });
  await commit(async (tx) => {
    await sealBlob(tx, blob, sha256);
    await tx
      .update(extracts)
      .set({ state: 'done', now, endedAt: new Date() })
      .where(eq(extracts.id, row.id));
    await note(tx, { operatorId: row.startedBy, kind: 'extracted', what: now });
    await announce(tx, { kind: 'extracts' });
  });
}

function filesFor(
  db: Database,
  { fair_copies: copy, media: medium }: CopyOfMedium,
  { what, packed, asText, only, isOnce }: typeof extracts.$inferSelect,
  names: UniqueNames,
): Promise<OutgoingFiles> {
  const { code } = medium;
  if (what === 'images') return imageOfCopy(db, copy, medium, packed, names);
  if (what === 'sounds')
    return soundsOut(db, copy, code, { isPacked: packed, only, isOnce, names });
  return filesOfCopy(db, copy, code, { prefix: `${fileNameOfCode(code)}/`, asText }, names);
}

interface CopyOfMedium {
  fair_copies: typeof fairCopies.$inferSelect;
  media: typeof media.$inferSelect;
}

async function outgoingFiles(row: typeof extracts.$inferSelect, db: Database): Promise<Outgoing[]> {
  const { fairCopyIds, acknowledgesQuarantine } = row;
  const names = new UniqueNames();
  const taken = new Set<number>();
  const outgoing: Outgoing[] = [];
  for (const copyId of fairCopyIds) {
    const [found] = await db
      .select()
      .from(fairCopies)
      .innerJoin(media, eq(media.id, fairCopies.mediumId))
      .where(eq(fairCopies.id, copyId));
    // A signature may have been found in it since it was asked for.
    await refuseQuarantined(db, copyId, acknowledgesQuarantine);
    if (!found) continue;
    const files = await filesFor(db, found, row, names);
    const { code } = found.media;
    outgoing.push({ code, files: await withPapers(db, files, found.media, { names, taken }) });
  }
  return outgoing;
}
