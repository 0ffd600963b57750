import { route } from '@/server/http/respond';
import { NewRoute, startRoute } from '@/server/services/assemblies';

export const POST = route(async ({ request, db, operator }) =>
  startRoute(db, await operator(), NewRoute.parse(await request.json())),
);
