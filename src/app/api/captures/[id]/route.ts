import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { sittingCapture } from '@/server/features/copies/downloads';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db, request }) =>
  sittingCapture(
    db,
    rowId(params.id),
    request.headers,
    new URL(request.url).searchParams.has('described'),
  ),
);
