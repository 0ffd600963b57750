import { route } from '@/server/http/respond';
import { NewRules, addRules, allRules } from '@/server/services/signatures';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => allRules(db));
export const POST = route(async ({ request, db, operator }) =>
  addRules(db, await operator(), NewRules.parse(await request.json())),
);
