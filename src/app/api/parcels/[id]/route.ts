import { rowId, type RouteContext } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { mediaOfParcel } from '@/server/features/parcels/parcels';
import { sendParcel } from '@/server/features/parcels/send-parcel';
import { unlessHeld } from '@/server/features/rights/handing-out';
import { formOf } from '@/server/platform/http/request-body';
import { protectedDownload } from '@/server/platform/http/protect';

export const dynamic = 'force-dynamic';

/** What went is in the ledger once all of it did. */
async function bagOf(context: RouteContext<{ id: string }>): Promise<Response> {
  const { db, params, operator } = context;
  const id = rowId(params.id);
  const operatorId = await operator();
  const media = (await mediaOfParcel(db, id)).map((medium) => medium.id);
  return unlessHeld(context, media, () => sendParcel(db, operatorId, id));
}

export const GET = route<{ id: string }>(bagOf);
/** The same under a passphrase: it stands in the body, so that no log keeps it. */
export const POST = route<{ id: string }>(async (context) => {
  await context.operator();
  const form = await formOf(context.request);
  return protectedDownload(await bagOf(context), form);
});
