/** Bytes of an upload as they come: one part is put away while the next one comes and is hashed. */
import { eq } from 'drizzle-orm';
import { said } from '@/core/said';
import { blobOf } from '@/server/platform/blobs/blob-chunks';
import { appendBlob } from '@/server/platform/blobs/blob-store';
import { refuseWithoutRoom } from '@/server/platform/blobs/store-room';
import type { Database, Executor } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { claimDigest, keepDigest, type RunningDigest } from './running-digests';
import { uploads } from './tables';
import { hasComeWhole, uploadOf } from './uploads';

/** Bytes put away with one commit: what a break may cost. */
const PART = 8 << 20;

interface UploadUnderWay {
  id: string;
  blobId: string;
  size: number;
}

class Appending {
  private running: RunningDigest | null;
  private parts: Uint8Array[] = [];
  private waiting = 0;
  private putting: Promise<void> = Promise.resolve();

  constructor(
    private readonly db: Database,
    private readonly upload: UploadUnderWay,
    /** Bytes that are put away. */
    private at: number,
  ) {
    this.running = claimDigest(upload.id, at);
  }

  async take(body: ReadableStream<Uint8Array> | null): Promise<number> {
    const offset = this.at;
    await this.takeAll(body?.getReader());
    try {
      await this.putRest();
      // A body without bytes still shows whether the upload stands where it is thought to.
      if (this.at === offset) await this.put(new Uint8Array(0));
    } catch (error) {
      this.dropDigest();
      throw error;
    }
    if (this.running && this.at < this.upload.size) keepDigest(this.upload.id, this.running);
    return this.at;
  }

  private async takeAll(reader?: ReadableStreamDefaultReader<Uint8Array>): Promise<void> {
    try {
      for (;;) {
        const { done, value } = (await reader?.read()) ?? { done: true as const };
        if (done) return;
        this.parts.push(value);
        this.waiting += value.length;
        if (this.waiting >= PART) await this.putNext();
      }
    } catch (error) {
      await reader?.cancel().catch(() => undefined);
      // What is hashed and not put away would make a digest of something else.
      this.dropDigest();
      // Where the connection broke, what came before is put away.
      if (!(error instanceof UserError)) await this.putRest();
      throw error;
    }
  }

  private async putRest(): Promise<void> {
    if (this.waiting > 0) await this.putNext();
    await this.putting;
  }

  private async putNext(): Promise<void> {
    const bytes = Buffer.concat(this.parts);
    this.parts = [];
    this.waiting = 0;
    if (this.running) this.running.offset += bytes.length;
    const hashed = this.running?.hash.update(bytes);
    hashed?.catch(() => undefined);
    await this.putting;
    await hashed;
    this.putting = this.put(bytes);
    this.putting.catch(() => undefined);
  }

  private async put(bytes: Uint8Array): Promise<void> {
    const { id, blobId, size } = this.upload;
    await this.db.transaction(async (tx) => {
      await this.refuse(tx, bytes.length);
      if (bytes.length > 0) await appendBlob(tx, blobId, bytes);
      await tx.update(uploads).set({ cameAt: new Date() }).where(eq(uploads.id, id));
      this.at += bytes.length;
      if (this.at === size) await hasComeWhole(tx, id, await this.digestOfAll());
    });
  }

  /** Locks the upload's row, and refuses what does not go on from where it stands. */
  private async refuse(tx: Executor, length: number): Promise<void> {
    const { id, blobId, size } = this.upload;
    const { at } = this;
    const [row] = await tx
      .select({ state: uploads.state })
      .from(uploads)
      .where(eq(uploads.id, id))
      .for('update');
    if (row?.state !== 'coming') throw new UserError(said('intake.thisUploadWasGiven'), 410);
    const there = (await blobOf(tx, blobId)).size;
    if (there !== at) throw new UserError(said('intake.bytesAreHereThe', { there, at }), 409);
    if (at + length > size) throw new UserError(said('intake.moreBytesCameThan', { size }), 413);
  }

  /** Where all of it came through this process, it need not be read once more for its digest. */
  private async digestOfAll(): Promise<string | null> {
    const { running } = this;
    return running && running.offset === this.upload.size ? running.hash.digest() : null;
  }

  private dropDigest(): void {
    this.running?.hash.drop();
    this.running = null;
  }
}

/**
 * Takes bytes from `offset` on, each part committed as it comes; gives how far it is then. What
 * comes after a break is not lost.
 */
export async function appendPart(
  db: Database,
  id: string,
  offset: number,
  body: ReadableStream<Uint8Array> | null,
): Promise<number> {
  const { blobId, size, state } = await uploadOf(db, id);
  if (state !== 'coming' || !blobId) throw new UserError(said('intake.thisFileHasCome'), 409);
  await refuseWithoutRoom(size - offset);
  return new Appending(db, { id, blobId, size }, offset).take(body);
}
