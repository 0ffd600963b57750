import { listArrivals } from '@/server/features/media/arrivals';
import { registerMany, registerMedium } from '@/server/features/media/media';
import { ManyMedia, NewMedium } from '@/server/features/media/new-medium';
import { route } from '@/server/features/operators/route';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) =>
  listArrivals(db, Object.fromEntries(new URL(request.url).searchParams)),
);
export const POST = route(async ({ request, db, operator }) => {
  const body: unknown = await jsonOf(request);
  const who = await operator();
  const isMany = typeof body === 'object' && body !== null && 'media' in body;
  return isMany
    ? registerMany(db, who, ManyMedia.parse(body).media)
    : registerMedium(db, who, NewMedium.parse(body));
});
