import { route } from '@/server/features/operators/route';
import { NewRules, addRules, allRules } from '@/server/features/signatures/signatures';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => allRules(db));
export const POST = route(async ({ request, db, operator }) =>
  addRules(db, await operator(), NewRules.parse(await request.json())),
);
