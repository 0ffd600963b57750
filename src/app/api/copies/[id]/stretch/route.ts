import { z } from 'zod';
import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { stretchOf } from '@/server/features/sounds/raw-hearings';

export const dynamic = 'force-dynamic';

const place = z.coerce.number().int().min(0).max(Number.MAX_SAFE_INTEGER);
const Stretch = z.object({ from: place, length: place.min(1) });

/** The bytes of an image from one place on. */
export const GET = route<{ id: string }>(({ params, db, request }) =>
  stretchOf(
    db,
    rowId(params.id),
    Stretch.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
