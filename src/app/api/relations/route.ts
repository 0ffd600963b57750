import { route } from '@/server/features/operators/route';
import { NewRelation, relate } from '@/server/features/holdings/relations';
import { jsonOf } from '@/server/platform/http/request-body';

export const POST = route(async ({ request, db, operator }) =>
  relate(db, await operator(), NewRelation.parse(await jsonOf(request))),
);
