/** All files of a copy as one ZIP, streamed: safe names, dates kept, and a manifest with what each was called and what is doubtful of it. */
import { Zip, ZipDeflate } from 'fflate';
import { sliceSource } from '@/core/bits/byte-source';
import { UniqueNames } from '@/core/volume/unique-names';
import { streamExtents } from '@/core/volume/volume';
import { blobSource } from '../blobs/blob-store';
import type { Database } from '../db/database';
import type { fairCopies } from '../db/schema';
import { UserError } from '../errors';
import { contentsOf } from './fair-copies';

/** What a ZIP's date can hold. */
const FIRST_YEAR = 1980;
const LAST_YEAR = 2099;

function dateOf(modified: string | null): Date {
  const date = modified ? new Date(modified) : new Date(FIRST_YEAR, 0, 1);
  return date.getFullYear() < FIRST_YEAR || date.getFullYear() > LAST_YEAR ? new Date(FIRST_YEAR, 0, 1) : date;
}

export async function zipOfCopy(db: Database, copy: typeof fairCopies.$inferSelect, code: string): Promise<Response> {
  const contents = await contentsOf(db, copy.id);
  if (contents.length === 0) throw new UserError(`No volume was found in ${code}: there are no files to take out. Its image can be had as it is.`, 409);
  const source = await blobSource(db, copy.imageBlob);
  const names = new UniqueNames();
  const entries = contents.flatMap((volume) => volume.entries.filter(({ kind, recoverable }) => kind === 'file' && recoverable !== 'none').map((entry) => {
    const path = `${volume.partition === null ? '' : `${volume.partition}/`}${entry.deleted ? 'deleted/' : ''}${entry.path}`;
    return { entry, volume, writtenAs: names.pathOf(path) };
  }));
  const manifest = {
    format: 'frail-spindle-extract', version: 1, medium: code, image: { sha256: copy.imageSha256, bytes: copy.imageBytes },
    files: entries.map(({ entry: { path, recordedName, type, bytes, modified, locked, deleted, recoverable, damaged, sectorsInDoubt, sha256 }, volume, writtenAs }) => ({ writtenAs, partition: volume.partition, path, recordedName, type, bytes, modified, locked, deleted, recoverable, damaged, sectorsInDoubt, sha256 })),
  };
  let cancelled = false;
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      const zip = new Zip((error, chunk, final) => {
        if (error) controller.error(error);
        else {
          if (!cancelled) controller.enqueue(chunk);
          if (final && !cancelled) controller.close();
        }
      });
      const roomy = async () => { while (!cancelled && (controller.desiredSize ?? 0) < 0) await new Promise((resolve) => setTimeout(resolve, 5)); };
      try {
        for (const { entry, volume, writtenAs } of entries) {
          if (cancelled) return;
          const file = new ZipDeflate(writtenAs, { level: 6 });
          file.mtime = dateOf(entry.modified);
          zip.add(file);
          for await (const part of streamExtents(sliceSource(source, volume.offset, volume.length), entry)) {
            file.push(part);
            await roomy();
          }
          file.push(new Uint8Array(0), true);
        }
        const last = new ZipDeflate(names.pathOf('manifest.json'), { level: 6 });
        zip.add(last);
        last.push(new TextEncoder().encode(`${JSON.stringify(manifest, null, 1)}\n`), true);
        zip.end();
      } catch (error) {
        controller.error(error);
      }
    },
    cancel() { cancelled = true; },
  }, { highWaterMark: 16 });
  return new Response(stream, { headers: { 'content-type': 'application/zip', 'x-content-type-options': 'nosniff', 'cache-control': 'no-store', 'content-disposition': `attachment; filename="${code}.zip"` } });
}
