import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { CameBack, compareBack } from '@/server/features/memory-cards/memory-cards';

export const POST = route<{ id: string }>(async ({ request, db, params }) =>
  compareBack(db, rowId(params.id), CameBack.parse(await request.json())),
);
