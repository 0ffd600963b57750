import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { Stretch, stretchOf } from '@/server/features/sounds/raw-hearings';

export const dynamic = 'force-dynamic';

/** The bytes of an image from one place on. */
export const GET = route<{ id: string }>(({ params, db, request }) =>
  stretchOf(
    db,
    rowId(params.id),
    Stretch.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
