import { route } from '@/server/features/operators/route';
import { describeMedium } from '@/server/features/media/media';
import { MediumChange } from '@/server/features/media/new-medium';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const POST = route<{ code: string }>(async ({ request, db, params, operator }) =>
  describeMedium(db, await operator(), params.code, MediumChange.parse(await jsonOf(request))),
);
