import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { sittingCapture } from '@/server/features/copies/downloads';
import { handOut } from '@/server/features/rights/handing-out';
import { mediaOfSitting } from '@/server/features/rights/media-of';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(async (context) => {
  const { db, request, params } = context;
  const id = rowId(params.id);
  const isDescribed = new URL(request.url).searchParams.has('described');
  return handOut(context, await mediaOfSitting(db, id), () =>
    sittingCapture(db, id, request.headers, isDescribed),
  );
});
