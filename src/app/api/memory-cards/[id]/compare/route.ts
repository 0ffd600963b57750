import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { CameBack, compareBack } from '@/server/features/memory-cards/memory-cards';
import { jsonOf } from '@/server/platform/http/request-body';

export const POST = route<{ id: string }>(async ({ request, db, params }) =>
  compareBack(db, rowId(params.id), CameBack.parse(await jsonOf(request))),
);
