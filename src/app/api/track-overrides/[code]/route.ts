import { route } from '@/server/features/operators/route';
import { NewSetting } from '@/server/features/copies/settling/track-overrides';
import { keepSetting } from '@/server/features/copies/settling/said-of-copy';
import { jsonOf } from '@/server/platform/http/request-body';

export const POST = route<{ code: string }>(async ({ request, db, params, operator }) =>
  keepSetting(db, await operator(), params.code, NewSetting.parse(await jsonOf(request))),
);
