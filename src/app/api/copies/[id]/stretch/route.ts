import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { unlessHeld } from '@/server/features/rights/handing-out';
import { mediaOfCopies } from '@/server/features/rights/media-of';
import { Stretch, stretchOf } from '@/server/features/sounds/raw-hearings';

export const dynamic = 'force-dynamic';

/** The bytes of an image from one place on. */
export const GET = route<{ id: string }>(async (context) => {
  const { params, db, request } = context;
  const id = rowId(params.id);
  const asked = Stretch.parse(Object.fromEntries(new URL(request.url).searchParams));
  return unlessHeld(context, await mediaOfCopies(db, [id]), () => stretchOf(db, id, asked));
});
