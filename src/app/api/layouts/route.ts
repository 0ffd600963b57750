import { route } from '@/server/features/operators/route';
import { addLayout, listLayouts } from '@/server/features/layouts/layouts';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listLayouts(db));
export const POST = route(async ({ request, db, operator }) => {
  const { id } = await addLayout(db, await operator(), await jsonOf(request));
  return { id };
});
