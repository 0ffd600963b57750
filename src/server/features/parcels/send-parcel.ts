/** A parcel on its way: streamed as it is made, and written down once all of it went. */
import { eq } from 'drizzle-orm';
import { said } from '@/core/said';
import type { Database } from '@/server/platform/db/database';
import { announce } from '@/server/platform/events';
import { download } from '@/server/platform/http/respond';
import { noteMany } from '../ledger/ledger';
import { operators } from '../operators/tables';
import { bagOf, baseOf, type SentBag } from './parcel-bag';
import { mediaOfParcel, parcelOf } from './parcels';
import { parcelSendings, type parcels } from './tables';

interface Sending {
  parcel: typeof parcels.$inferSelect;
  operatorId: number;
  began: number;
}

async function writeDown(
  db: Database,
  { parcel, operatorId, began }: Sending,
  { payload, manifestSha256 }: SentBag,
): Promise<void> {
  const { id: parcelId, title, recipient } = parcel;
  const bytes = payload.reduce((sum, file) => sum + file.bytes, 0);
  const seconds = Math.max(1, Math.round((Date.now() - began) / 1000));
  await db.transaction(async (tx) => {
    await tx.insert(parcelSendings).values({
      ...{ parcelId, sentBy: operatorId, bytes, files: payload.length, seconds, manifestSha256 },
      manifest: payload.map((file) => ({
        ...{ path: file.path, bytes: file.bytes, sha256: file.digests.sha256 },
      })),
    });
    const what = said('parcels.went', { id: parcelId, title, recipient, manifestSha256 });
    const went = await mediaOfParcel(tx, parcelId);
    await noteMany(
      tx,
      went.map(({ id: mediumId }) => ({ operatorId, kind: 'parcel', mediumId, what })),
    );
    await announce(tx, { kind: 'parcels' });
  });
}

/** Throws UserError, 404, where there is none. */
export async function sendParcel(db: Database, operatorId: number, id: number): Promise<Response> {
  const parcel = await parcelOf(db, id);
  const [operator] = await db.select().from(operators).where(eq(operators.id, operatorId));
  const sending = { parcel, operatorId, began: Date.now() };
  const bag = bagOf(db, parcel, {
    packer: operator!.name,
    onSent: (sent) => writeDown(db, sending, sent),
  });
  return download(bag, `${baseOf(parcel)}.tar`, null, 'application/x-tar');
}
