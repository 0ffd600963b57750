import { route } from '@/server/http/respond';
import { giveVerdict } from '@/server/services/resettle';
import { NewVerdict } from '@/server/services/verdicts';

export const dynamic = 'force-dynamic';
export const POST = route<{ code: string }>(async ({ request, db, params, operator }) =>
  giveVerdict(db, await operator(), params.code, NewVerdict.parse(await request.json())),
);
