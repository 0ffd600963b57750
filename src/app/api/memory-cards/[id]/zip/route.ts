import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { cardDownload } from '@/server/features/memory-cards/memory-cards';
import { handOut } from '@/server/features/rights/handing-out';
import { mediaOfCard } from '@/server/features/rights/media-of';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(async (context) => {
  const { db, params } = context;
  const id = rowId(params.id);
  return handOut(context, await mediaOfCard(db, id), () => cardDownload(db, id));
});
