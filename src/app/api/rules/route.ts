import { route } from '@/server/features/operators/route';
import { NewRules, addRules, allRules } from '@/server/features/signatures/signatures';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => allRules(db));
export const POST = route(async ({ request, db, operator }) =>
  addRules(db, await operator(), NewRules.parse(await jsonOf(request))),
);
