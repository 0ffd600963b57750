import { route, rowId } from '@/server/http/respond';
import { sittingCapture } from '@/server/services/handing-out';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db, request }) =>
  sittingCapture(db, rowId(params.id), request.headers),
);
