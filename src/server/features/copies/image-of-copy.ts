/**
 * The image of a fair copy on its way out, packed or not, with its sidecar; and what packing would
 * save.
 */
import { inArray } from 'drizzle-orm';
import { packSource, tryPacking } from '@/core/packing/pack-source';
import type { UniqueNames } from '@/core/volume/unique-names';
import { nodeDeflater } from '@/node/deflate';
import { nodeDigester } from '@/node/digester';
import { blobSource, streamBlob } from '@/server/platform/blobs/read-blob';
import type { Executor } from '@/server/platform/db/database';
import { type extracts } from '../extracts/tables';
import { fairCopies } from './tables';
import { type media } from '../media/tables';
import type { ZipMember } from '@/server/platform/http/zip';
import type { OutgoingFiles } from './files-of-copy';

/** Most copies whose packing is tried at once. */
export const MAX_TRIED = 500;

export const imageName = (code: string, form: string) =>
  `${code}.${form === 'optical-disc' ? 'iso' : 'img'}`;

export async function imageOfCopy(
  db: Executor,
  copy: typeof fairCopies.$inferSelect,
  { code, form }: typeof media.$inferSelect,
  packed: boolean,
  names: UniqueNames,
): Promise<OutgoingFiles> {
  const source = await blobSource(db, copy.imageBlob);
  const writtenAs = names.pathOf(`${imageName(code, form)}${packed ? '.gz' : ''}`);
  const sidecarAs = copy.sidecarBlob ? names.pathOf(`${code}.sidecar.json`) : null;
  async function* members(): AsyncGenerator<ZipMember> {
    yield {
      name: writtenAs,
      modified: null,
      stored: packed,
      bytes: packed
        ? packSource(source, nodeDeflater, nodeDigester)
        : streamBlob(db, copy.imageBlob),
    };
    if (sidecarAs)
      yield {
        name: sidecarAs,
        modified: null,
        bytes: streamBlob(db, copy.sidecarBlob!),
        beside: true,
      };
  }
  return {
    count: 1,
    mostMembers: 2,
    bytes: copy.imageBytes,
    members,
    manifest: {
      format: 'frail-spindle-extract',
      version: 1,
      medium: code,
      image: { writtenAs, sha256: copy.imageSha256, bytes: copy.imageBytes, packed },
      sidecar: sidecarAs,
    },
  };
}

/** One packed image goes out by itself, of any size: it needs no ZIP around it. */
export const isAlone = ({
  what,
  packed,
  fairCopyIds,
}: Pick<typeof extracts.$inferSelect, 'what' | 'packed' | 'fairCopyIds'>) =>
  what === 'images' && packed && fairCopyIds.length === 1;

/** What packing would make of these copies, by samples; how many of all were looked at. */
export async function packingOf(db: Executor, ids: readonly number[]) {
  const rows = await db
    .select({ imageBlob: fairCopies.imageBlob })
    .from(fairCopies)
    .where(inArray(fairCopies.id, ids.slice(0, MAX_TRIED)));
  let [bytes, packed, sampled] = [0, 0, 0];
  const started = performance.now();
  for (const { imageBlob } of rows) {
    const trial = await tryPacking(await blobSource(db, imageBlob), nodeDeflater);
    bytes += trial.bytes;
    packed += trial.bytes * trial.packedShare;
    sampled += trial.sampled;
  }
  return {
    copies: rows.length,
    bytes,
    packedBytes: Math.round(packed),
    seconds: sampled === 0 ? 0 : ((performance.now() - started) / 1000) * (bytes / sampled),
  };
}
