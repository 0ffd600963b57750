import { route } from '@/server/features/operators/route';
import { NewRoute, startRoute } from '@/server/features/assemblies/start-route';
import { jsonOf } from '@/server/platform/http/request-body';

export const POST = route(async ({ request, db, operator }) =>
  startRoute(db, await operator(), NewRoute.parse(await jsonOf(request))),
);
