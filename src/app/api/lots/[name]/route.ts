import { route } from '@/server/http/respond';
import { changeLot } from '@/server/services/media';
import { LotChange } from '@/server/services/new-medium';

export const dynamic = 'force-dynamic';
export const POST = route<{ name: string }>(async ({ request, db, params, operator }) =>
  changeLot(db, await operator(), params.name, LotChange.parse(await request.json())),
);
