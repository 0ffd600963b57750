/**
 * All of a source stored as a sealed blob, piece by piece, each put away by itself: no transaction
 * is held while the source is worked out. What a break leaves behind is swept up later.
 */
import type { ByteSource } from '@/core/bits/byte-source';
import type { Database } from '../db/database';
import { ThreadedHash } from '../threads/threaded-hash';
import { blobOf } from './blob-chunks';
import { appendBlob, createBlob, digestOfBlob, sealBlob } from './blob-store';

const PIECE = 4 << 20;

export interface StoredImage {
  blobId: string;
  size: number;
  sha256: string;
}

export async function storeSource(db: Database, source: ByteSource): Promise<StoredImage> {
  const id = await createBlob(db);
  const hash = new ThreadedHash();
  try {
    for (let at = 0; at < source.size; at += PIECE) {
      const piece = await source.read(at, PIECE);
      const put = db.transaction((tx) => appendBlob(tx, id, piece));
      await Promise.all([hash.update(piece), put]);
    }
    return await sealed(db, id, await hash.digest());
  } finally {
    hash.drop();
  }
}

/** A blob that may still grow, sealed; its digest is worked out before the transaction begins. */
export async function sealStored(
  db: Database,
  id: string,
  known: string | null = null,
): Promise<StoredImage> {
  const { sha256 } = await blobOf(db, id);
  return sealed(db, id, sha256 ?? known ?? (await digestOfBlob(db, id)));
}

async function sealed(db: Database, id: string, digest: string): Promise<StoredImage> {
  const { id: blobId, size, sha256 } = await db.transaction((tx) => sealBlob(tx, id, digest));
  return { blobId, size, sha256: sha256! };
}
