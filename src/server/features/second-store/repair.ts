/**
 * What one store lost the other gives back: a damaged blob from the file that has its digest, a
 * damaged file from the blob that has. Either is told in the ledger.
 */
import { open } from 'node:fs/promises';
import { join } from 'node:path';
import { and, eq, sql } from 'drizzle-orm';
import type { Inventory } from '@/core/ocfl/inventory';
import { said } from '@/core/said';
import { checkBlob } from '@/server/platform/blobs/fixity';
import { streamBlob } from '@/server/platform/blobs/read-blob';
import { damagedBlobs, repairBlob } from '@/server/platform/blobs/repair-blob';
import { blobs } from '@/server/platform/blobs/tables';
import { digestOfStream } from '@/server/platform/threads/threaded-hash';
import type { Database, Executor } from '@/server/platform/db/database';
import { nameOfBlob, speakerOfBlob } from '../fixity/blob-names';
import { tellOfCheck } from '../fixity/fixity';
import { note } from '../ledger/ledger';
import { readInPieces } from './ocfl-root';
import { storedFiles, storedObjects } from './tables';
import type { StoreOfHouse } from './store-of-house';

type Commit = <T>(work: (tx: Executor) => Promise<T>) => Promise<T>;

const noRest = async () => undefined;

/** The first file with these bytes that is still as it was written. */
async function soundFile(db: Database, { root }: StoreOfHouse, sha256: string) {
  const files = await db
    .select({ objectId: storedFiles.objectId, path: storedFiles.path })
    .from(storedFiles)
    .where(eq(storedFiles.sha256, sha256));
  for (const { objectId, path } of files) {
    const stream = () => root.streamOf(objectId, path);
    const digest = await digestOfStream(stream()).catch(() => null);
    if (digest === sha256) return { objectId, path, stream };
  }
  return null;
}

/** Damaged blobs that the store has whole are put right. Answers with how many were. */
export async function repairBlobs(
  db: Database,
  store: StoreOfHouse,
  commit: Commit,
  tried: Set<string> = new Set(),
): Promise<number> {
  let repaired = 0;
  for (const { id, sha256 } of await damagedBlobs(db)) {
    if (tried.has(id)) continue;
    tried.add(id);
    const file = sha256 && (await soundFile(db, store, sha256));
    if (!file) continue;
    const chunks = await repairBlob(db, id, file.stream());
    await checkBlob(db, id, tellOfCheck, noRest);
    const speaker = await speakerOfBlob(db, id);
    const what = speaker?.what ?? said('platform.whatIsStoredHere');
    await commit((tx) =>
      note(tx, {
        operatorId: null,
        kind: 'fixity',
        mediumId: speaker?.mediumId ?? null,
        what: said('secondStore.broughtBack', { what, chunks, path: file.path }),
      }),
    );
    tried.delete(id);
    repaired++;
  }
  return repaired;
}

/** A blob that has these bytes, and is sound. */
async function blobWith(db: Database, sha256: string): Promise<string | null> {
  const [row] = await db
    .select({ id: blobs.id })
    .from(blobs)
    .where(
      and(eq(blobs.sha256, sha256), eq(blobs.state, 'sealed'), sql`${blobs.damagedAt} is null`),
    );
  return row?.id ?? null;
}

/** The bytes of a blob beside the store, where they are those that the file should have. */
async function stagedBlob(
  db: Database,
  { root }: StoreOfHouse,
  id: string,
  sha512: string,
): Promise<string | null> {
  const path = join(await root.stage(), 'file');
  const file = await open(path, 'w');
  try {
    for await (const part of streamBlob(db, id)) await file.appendFile(part);
    await file.sync();
  } finally {
    await file.close();
  }
  const digest = await digestOfStream(readInPieces(path), 'sha512');
  return digest === sha512 ? path : null;
}

/** Files of an object that are not what they were: put right where a blob has their bytes. */
export async function repairFiles(
  db: Database,
  store: StoreOfHouse,
  inventory: Inventory,
  damaged: readonly { content: string; sha512: string }[],
  commit: Commit,
): Promise<{ content: string }[]> {
  const lost: { content: string }[] = [];
  for (const { content, sha512 } of damaged) {
    const [file] = await db
      .select()
      .from(storedFiles)
      .where(and(eq(storedFiles.objectId, inventory.id), eq(storedFiles.path, content)));
    const blobId = file ? await blobWith(db, file.sha256) : null;
    const path = blobId && (await stagedBlob(db, store, blobId, sha512));
    if (!path) {
      lost.push({ content });
      continue;
    }
    await store.root.replace(inventory.id, content, path);
    const what = (await nameOfBlob(db, blobId)) ?? said('platform.whatIsStoredHere');
    await commit((tx) =>
      noteOfObject(tx, inventory.id, said('secondStore.fileBroughtBack', { what, path: content })),
    );
  }
  return lost;
}

/** An entry of the ledger about the medium that an object is of. */
export async function noteOfObject(
  tx: Executor,
  objectId: string,
  what: ReturnType<typeof said>,
): Promise<void> {
  const [object] = await tx.select().from(storedObjects).where(eq(storedObjects.id, objectId));
  await note(tx, { operatorId: null, kind: 'fixity', mediumId: object?.mediumId ?? null, what });
}
