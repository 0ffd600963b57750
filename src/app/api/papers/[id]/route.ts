import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { removePaper, showPaper } from '@/server/features/media/papers';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ db, params }) => showPaper(db, rowId(params.id)));
export const DELETE = route<{ id: string }>(async ({ db, params, operator }) =>
  removePaper(db, await operator(), rowId(params.id)),
);
