import { route } from '@/server/features/operators/route';
import { SetChange } from '@/server/features/media/new-medium';
import { changeSet } from '@/server/features/media/sets';
import { jsonOf } from '@/server/platform/http/request-body';

export const POST = route<{ name: string }>(async ({ request, db, params, operator }) =>
  changeSet(db, await operator(), params.name, SetChange.parse(await jsonOf(request))),
);
