/**
 * Photos, scans and papers laid beside a medium, or shared by a whole set or a whole lot. What one
 * is, its first bytes say.
 */
import { inlineBytes } from '@/server/platform/http/answers';
import { asc, eq, or } from 'drizzle-orm';
import { paperType } from '@/core/picture/browser-picture';
import { storeBlob } from '@/server/platform/blobs/blob-store';
import { readBlob, streamBlob } from '@/server/platform/blobs/read-blob';
import type { Database, Executor } from '@/server/platform/db/database';
import { sanitizeText } from '@/server/platform/db/sanitize-text';
import { ownerOf, type Owner } from './owners';
import { attachments } from './tables';
import { operators } from '../operators/tables';
import { UserError, notFound } from '@/server/platform/errors';
import { announce } from '@/server/platform/events';
import type { AttachmentType } from '@/server/states';
import { note } from '../ledger/ledger';
import { said } from '@/core/said';

export const PAPER_LIMIT = 48 * 1024 * 1024;

/** A longer text is no note that lay beside a disk. */
const TEXT_LIMIT = 1 << 20;

/** Whom papers are of, as it is asked for. */
export type PaperOwner = { code: string } | { set: string } | { lot: string };

function ownedBy(tx: Executor, owner: PaperOwner) {
  if ('code' in owner) return ownerOf(tx, 'media', owner.code);
  return 'set' in owner ? ownerOf(tx, 'sets', owner.set) : ownerOf(tx, 'lots', owner.lot);
}

interface Paper {
  name: string;
  bytes: Uint8Array;
  type: AttachmentType;
}

/** What may be laid beside a medium; null of anything else. */
export function paperOf(name: string, bytes: Uint8Array): Paper | null {
  const type = paperType(bytes);
  if (!type || (type === 'text/plain' && bytes.length > TEXT_LIMIT)) return null;
  return { name: sanitizeText(name).slice(0, 255), bytes, type };
}

/**
 * The same bytes with the same owner are kept once: a page that lost the answer may send them
 * again.
 */
export async function addPaper(
  db: Database,
  operatorId: number,
  owner: PaperOwner,
  name: string,
  bytes: Uint8Array,
): Promise<{ id: number }> {
  const paper = paperOf(name, bytes);
  if (!paper) throw new UserError(said('media.isNoPicturePng', { name: sanitizeText(name) }), 422);
  return db.transaction((tx) => addPaperIn(tx, operatorId, owner, paper));
}

/** The same in the caller's transaction. */
export async function addPaperIn(
  tx: Executor,
  operatorId: number,
  owner: PaperOwner,
  { name, bytes, type }: Paper,
): Promise<{ id: number }> {
  const { owner: whose, name: beside } = await ownedBy(tx, owner);
  const blob = await storeBlob(tx, bytes);
  const twin = (await papersOf(tx, whose)).find(({ sha256 }) => sha256 === blob.sha256);
  if (twin) return { id: twin.id };
  const [row] = await tx
    .insert(attachments)
    .values({
      ...{ ...whose, name, type, blobId: blob.id },
      ...{ bytes: bytes.length, sha256: blob.sha256!, addedBy: operatorId },
    })
    .returning({ id: attachments.id });
  await note(tx, {
    operatorId,
    kind: 'paper-added',
    mediumId: whose.mediumId,
    what: said('media.laidBesideIt', { name, beside }),
  });
  await announce(tx, { kind: 'media' });
  return { id: row!.id };
}

/** What lies beside a medium lies beside another: they were found to be one. */
export async function movePapers(tx: Executor, from: number, to: number): Promise<number> {
  const moved = await tx
    .update(attachments)
    .set({ mediumId: to })
    .where(eq(attachments.mediumId, from))
    .returning({ id: attachments.id });
  return moved.length;
}

/** What lies beside all of these: a medium's own are told from what its set shares with it. */
export async function papersOf(db: Executor, { mediumId, setName, lotName }: Partial<Owner>) {
  const wanted = [
    ...(mediumId ? [eq(attachments.mediumId, mediumId)] : []),
    ...(setName ? [eq(attachments.setName, setName)] : []),
    ...(lotName ? [eq(attachments.lotName, lotName)] : []),
  ];
  if (wanted.length === 0) return [];
  const rows = await db
    .select({
      id: attachments.id,
      mediumId: attachments.mediumId,
      name: attachments.name,
      type: attachments.type,
      bytes: attachments.bytes,
      sha256: attachments.sha256,
      addedAt: attachments.addedAt,
      who: operators.name,
    })
    .from(attachments)
    .innerJoin(operators, eq(operators.id, attachments.addedBy))
    .where(or(...wanted))
    .orderBy(asc(attachments.id));
  return rows.map(({ mediumId: owner, ...row }) => ({ ...row, own: !mediumId || owner !== null }));
}

export async function showPaper(db: Database, id: number): Promise<Response> {
  const [row] = await db.select().from(attachments).where(eq(attachments.id, id));
  if (!row) throw notFound(said('media.suchPaper'));
  return inlineBytes(await readBlob(db, row.blobId), row);
}

/** Its bytes, to be taken out with the medium. */
export async function* streamPaper(db: Executor, id: number): AsyncGenerator<Uint8Array> {
  const [row] = await db.select().from(attachments).where(eq(attachments.id, id));
  if (!row) throw notFound(said('media.suchPaper'));
  yield* streamBlob(db, row.blobId);
}

/**
 * Takes a paper away that was laid beside the wrong medium; its bytes stay in the store, and the
 * ledger says so.
 */
export async function removePaper(db: Database, operatorId: number, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.delete(attachments).where(eq(attachments.id, id)).returning();
    if (!row) throw notFound(said('media.suchPaper'));
    await note(tx, {
      operatorId,
      kind: 'paper-removed',
      mediumId: row.mediumId,
      what: said('media.takenAwaySha256', {
        name: row.name,
        setName: row.setName,
        lotName: row.lotName,
        sha256: row.sha256.slice(0, 12),
      }),
    });
    await announce(tx, { kind: 'media' });
  });
}
