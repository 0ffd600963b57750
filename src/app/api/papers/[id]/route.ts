import { route, rowId } from '@/server/http/respond';
import { removePaper, showPaper } from '@/server/services/papers';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ db, params }) => showPaper(db, rowId(params.id)));
export const DELETE = route<{ id: string }>(async ({ db, params, operator }) =>
  removePaper(db, await operator(), rowId(params.id)),
);
