import { route } from '@/server/features/operators/route';
import { NewRoute, startRoute } from '@/server/features/assemblies/start-route';

export const POST = route(async ({ request, db, operator }) =>
  startRoute(db, await operator(), NewRoute.parse(await request.json())),
);
