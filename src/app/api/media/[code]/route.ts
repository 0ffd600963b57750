import { route } from '@/server/http/respond';
import { describeMedium } from '@/server/services/media';
import { MediumChange } from '@/server/services/new-medium';

export const dynamic = 'force-dynamic';
export const POST = route<{ code: string }>(async ({ request, db, params, operator }) =>
  describeMedium(db, await operator(), params.code, MediumChange.parse(await request.json())),
);
