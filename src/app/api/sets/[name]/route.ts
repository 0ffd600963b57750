import { route } from '@/server/http/respond';
import { SetChange } from '@/server/services/new-medium';
import { changeSet } from '@/server/services/sets';

export const POST = route<{ name: string }>(async ({ request, db, params, operator }) =>
  changeSet(db, await operator(), params.name, SetChange.parse(await request.json())),
);
