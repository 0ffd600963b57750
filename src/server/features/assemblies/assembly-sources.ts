/**
 * Where the bytes of an assembly's files come from: files in the holdings by their rows, files from
 * the desktop by their blobs.
 */
import { tell } from '@/messages/tell';
import { eq, type SQL } from 'drizzle-orm';
import { sliceSource } from '@/core/bits/byte-source';
import type { PutEdit } from '@/core/assembly/edits';
import { streamContents } from '@/core/volume/contents';
import { collect } from '@/core/volume/volume';
import { blobSource, readBlob } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { fairCopies, files, volumes } from '../copies/tables';
import { media } from '../media/tables';
import { notFound } from '@/server/platform/errors';
import { said, type Said } from '@/core/said';

/** Most bytes of one file that is put on a volume in memory. */
export const MAX_FILE_BYTES = 32 << 20;
/** Bytes kept of files read lately: every look at an assembly makes it anew. */
const MAX_KEPT = 64 << 20;

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
    if (keptBytes <= MAX_KEPT || oldest === source) break;
    kept.delete(oldest);
    keptBytes -= length;
  }
  return bytes;
}

/** Files of fair copies with where they lie and what they were called. */
export const filesWhere = (db: Executor, where: SQL | undefined) =>
  db
    .select()
    .from(files)
    .innerJoin(volumes, eq(volumes.id, files.volumeId))
    .innerJoin(fairCopies, eq(fairCopies.id, volumes.fairCopyId))
    .innerJoin(media, eq(media.id, fairCopies.mediumId))
    .where(where)
    .orderBy(media.code, volumes.id, files.position);
export type FileRow = Awaited<ReturnType<typeof filesWhere>>[number];

/** Why a file can't be put on a volume here; null where it can. */
export function whyNotPut({ files: { kind, link, recoverable, bytes } }: FileRow): Said | null {
  if (kind !== 'file' || link !== null || recoverable === 'none')
    return said('assemblies.itIsNoFile');
  return bytes > MAX_FILE_BYTES
    ? said('assemblies.itHasBytesFiles', { bytes, maxFileBytes: MAX_FILE_BYTES })
    : null;
}

/** What is not sound of a file, in words; null where all of it is. */
export function doubtOf({
  files: { sectorsInDoubt, damaged, recoverable },
}: FileRow): string | null {
  const doubts: Said[] = [];
  if (sectorsInDoubt > 0) doubts.push(said('assemblies.ofItsSectorsAre', { sectorsInDoubt }));
  if (damaged) doubts.push(said('assemblies.itIsDamaged'));
  if (recoverable === 'partial') doubts.push(said('assemblies.onlyAPartOf'));
  return doubts.length > 0 ? doubts.map(tell).join(', ') : null;
}

/** The bytes that an edit puts. */
export async function bytesToPut(
  db: Executor,
  { source }: Pick<PutEdit, 'source'>,
): Promise<Uint8Array> {
  const [from, id] = source.split(':') as [string, string];
  if (from === 'blob') return remembered(source, () => readBlob(db, id));
  return remembered(source, async () => {
    const [row] = await filesWhere(db, eq(files.id, Number(id)));
    if (!row) throw notFound(said('platform.suchFile'));
    return collect(
      streamContents(
        sliceSource(
          await blobSource(db, row.fair_copies.imageBlob),
          row.volumes.offset,
          row.volumes.length,
        ),
        row.files,
      ),
    );
  });
}

/** The image that an assembly begins with. */
export const baseImage = (
  db: Executor,
  { id, imageBlob }: Pick<typeof fairCopies.$inferSelect, 'id' | 'imageBlob'>,
): Promise<Uint8Array> => remembered(`copy:${id}`, () => readBlob(db, imageBlob));
