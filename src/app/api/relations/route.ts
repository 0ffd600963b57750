import { route } from '@/server/http/respond';
import { NewRelation, relate } from '@/server/services/relations';

export const POST = route(async ({ request, db, operator }) =>
  relate(db, await operator(), NewRelation.parse(await request.json())),
);
