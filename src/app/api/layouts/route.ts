import { route } from '@/server/http/respond';
import { addLayout, listLayouts } from '@/server/services/layouts';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listLayouts(db));
export const POST = route(async ({ request, db, operator }) => {
  const { id } = await addLayout(db, await operator(), await request.json());
  return { id };
});
