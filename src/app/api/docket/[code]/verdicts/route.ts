import { route } from '@/server/features/operators/route';
import { giveVerdict } from '@/server/features/copies/settling/said-of-copy';
import { NewVerdict } from '@/server/features/copies/settling/verdicts';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const POST = route<{ code: string }>(async ({ request, db, params, operator }) =>
  giveVerdict(db, await operator(), params.code, NewVerdict.parse(await jsonOf(request))),
);
