import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { bagAsItCame, mediaOfBag } from '@/server/features/bags/queries';
import { handOut } from '@/server/features/rights/handing-out';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(async (context) => {
  const { db, params, request } = context;
  const id = rowId(params.id);
  return handOut(context, await mediaOfBag(db, id), () => bagAsItCame(db, id, request.headers));
});
