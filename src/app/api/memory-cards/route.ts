import { route } from '@/server/features/operators/route';
import { listCards, makeCard, NewCard } from '@/server/features/memory-cards/memory-cards';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listCards(db));
export const POST = route(async ({ request, db, operator }) =>
  makeCard(db, await operator(), NewCard.parse(await jsonOf(request))),
);
