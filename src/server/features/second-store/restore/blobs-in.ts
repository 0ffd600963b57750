/** Bytes of a store put into the database again, each blob under the name that rows know it by. */
import { createHash } from 'node:crypto';
import { z } from 'zod';
import { restoreBlob } from '@/server/platform/blobs/restore-blob';
import type { Database } from '@/server/platform/db/database';
import type { StoredObject } from './stored-objects-in';

const BlobRow = z.object({
  id: z.uuid(),
  state: z.enum(['growing', 'sealed', 'same']),
  size: z.number(),
  sparse: z.boolean(),
  sha256: z.string().nullable(),
  same_as: z.uuid().nullable(),
});
type BlobRow = z.output<typeof BlobRow>;

const PATH = 'rows/blobs.jsonl';

interface RestoredBlobs {
  blobs: number;
  bytes: number;
  /** Whose bytes are not in the store, or are not what they were. */
  lost: string[];
}

async function rowsOf(object: StoredObject): Promise<BlobRow[]> {
  const text = (await object.text(PATH)) ?? '';
  return text
    .split('\n')
    .filter(Boolean)
    .map((line) => BlobRow.parse(JSON.parse(line)));
}

/** The bytes, told afterwards whether they were what they should be. */
function hashed(parts: AsyncIterable<Uint8Array>) {
  const hash = createHash('sha256');
  async function* stream() {
    for await (const part of parts) {
      hash.update(part);
      yield part;
    }
  }
  return { stream: stream(), digest: () => hash.digest('hex') };
}

/** The blobs of an object that are not there yet. */
export async function restoreBlobs(
  db: Database,
  object: StoredObject,
  there: Set<string>,
): Promise<RestoredBlobs> {
  const restored: RestoredBlobs = { blobs: 0, bytes: 0, lost: [] };
  for (const { id, state, size, sparse, sha256, same_as: sameAs } of await rowsOf(object)) {
    if (there.has(id) || state === 'growing') continue;
    const content = state === 'same' ? null : object.contentOf(sha256!);
    const bytes = content === null ? null : hashed(object.stream(content));
    await restoreBlob(db, { id, size, sparse, sha256: sha256!, sameAs }, bytes?.stream ?? null);
    there.add(id);
    if (state === 'same') continue;
    restored.blobs++;
    restored.bytes += size;
    if (bytes?.digest() !== sha256) restored.lost.push(`${object.inventory.id} ${sha256}`);
  }
  return restored;
}
