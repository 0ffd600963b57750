/** Where the bytes of an assembly's files come from: files in the holdings by their rows, files from the desktop by their blobs. */
import { eq } from 'drizzle-orm';
import { sliceSource } from '@/core/bits/byte-source';
import type { PutEdit } from '@/core/assembly/edits';
import { collect, streamExtents } from '@/core/volume/volume';
import { blobSource, readBlob } from '../blobs/blob-store';
import type { Executor } from '../db/database';
import { fairCopies, files, media, volumes } from '../db/schema';
import { UserError, notFound } from '../errors';
import { refuseQuarantined } from './signatures';

/** Most bytes of one file that is put on a volume in memory. */
export const MOST_FILE_BYTES = 32 << 20;
/** Bytes kept of files read lately: every look at an assembly makes it anew. */
const MOST_KEPT = 64 << 20;

/** By what it is known by; what stands under a number never changes. */
const kept = new Map<string, Uint8Array>();
let keptBytes = 0;

async function remembered(source: string, read: () => Promise<Uint8Array>): Promise<Uint8Array> {
  const there = kept.get(source);
  if (there) {
    kept.delete(source);
    kept.set(source, there);
    return there;
  }
  const bytes = await read();
  kept.set(source, bytes);
  keptBytes += bytes.length;
  for (const [oldest, { length }] of kept) {
    if (keptBytes <= MOST_KEPT || oldest === source) break;
    kept.delete(oldest);
    keptBytes -= length;
  }
  return bytes;
}

/** A file of a fair copy with where it lies and what it was called; refused where it is in quarantine or can't be had. */
export async function fileToPut(db: Executor, id: number) {
  const [row] = await db.select().from(files).innerJoin(volumes, eq(volumes.id, files.volumeId)).innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId)).innerJoin(media, eq(media.id, fairCopies.mediumId)).where(eq(files.id, id));
  if (!row) throw notFound('such file');
  const { files: file } = row;
  if (file.kind !== 'file' || file.link !== null || file.recoverable === 'none') throw new UserError(`${file.path} of ${row.media.code} is no file whose bytes can be had.`);
  if (file.bytes > MOST_FILE_BYTES) throw new UserError(`${file.path} has ${file.bytes.toLocaleString('en')} bytes; files of at most ${MOST_FILE_BYTES.toLocaleString('en')} are put on a volume here.`, 413);
  await refuseQuarantined(db, row.fair_copies.id, false);
  return { ...row, name: file.path.split('/').pop()! };
}

/** The bytes that an edit puts. */
export async function bytesToPut(db: Executor, { source }: Pick<PutEdit, 'source'>): Promise<Uint8Array> {
  const [from, id] = source.split(':') as [string, string];
  if (from === 'blob') return remembered(source, () => readBlob(db, id));
  return remembered(source, async () => {
    const { files: file, volumes: volume, fair_copies: copy } = await fileToPut(db, Number(id));
    return collect(streamExtents(sliceSource(await blobSource(db, copy.imageBlob), volume.offset, volume.length), file));
  });
}

/** The image that an assembly begins with. */
export const baseImage = (db: Executor, { id, imageBlob }: Pick<typeof fairCopies.$inferSelect, 'id' | 'imageBlob'>): Promise<Uint8Array> => remembered(`copy:${id}`, () => readBlob(db, imageBlob));
