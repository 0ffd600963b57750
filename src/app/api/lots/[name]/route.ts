import { route } from '@/server/features/operators/route';
import { changeLot } from '@/server/features/media/lots';
import { LotChange } from '@/server/features/media/new-medium';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const POST = route<{ name: string }>(async ({ request, db, params, operator }) =>
  changeLot(db, await operator(), params.name, LotChange.parse(await jsonOf(request))),
);
