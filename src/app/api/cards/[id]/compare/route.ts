import { route, rowId } from '@/server/http/respond';
import { CameBack, compareBack } from '@/server/services/cards';

export const POST = route<{ id: string }>(async ({ request, db, params }) =>
  compareBack(db, rowId(params.id), CameBack.parse(await request.json())),
);
