import { route } from '@/server/features/operators/route';
import { correctMedium } from '@/server/features/media/corrections';
import { MediumCorrection } from '@/server/features/media/new-medium';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const POST = route<{ code: string }>(async ({ request, db, params, operator }) =>
  correctMedium(db, await operator(), params.code, MediumCorrection.parse(await jsonOf(request))),
);
