import { route } from '@/server/http/respond';
import { NewSetting } from '@/server/services/kept-settings';
import { keepSetting } from '@/server/services/resettle';

export const POST = route<{ code: string }>(async ({ request, db, params, operator }) =>
  keepSetting(db, await operator(), params.code, NewSetting.parse(await request.json())),
);
