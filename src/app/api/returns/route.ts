import { route } from '@/server/http/respond';
import { listReturns, ReturnWish, startReturn } from '@/server/services/returns';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listReturns(db));
export const POST = route(async ({ request, db, operator }) => ({
  returnId: await startReturn(db, await operator(), ReturnWish.parse(await request.json())),
}));
