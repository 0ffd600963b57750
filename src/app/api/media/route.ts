import {
  listArrivals,
  listLots,
  nextCode,
  registerMany,
  registerMedium,
} from '@/server/services/media';
import { ManyMedia, NewMedium } from '@/server/services/new-medium';
import { route } from '@/server/http/respond';

export const dynamic = 'force-dynamic';
export const GET = route(async ({ db }) => ({
  media: await listArrivals(db),
  lots: await listLots(db),
  nextCode: await nextCode(db),
}));
export const POST = route(async ({ request, db, operator }) => {
  const body: unknown = await request.json();
  const who = await operator();
  const isMany = typeof body === 'object' && body !== null && 'media' in body;
  return isMany
    ? registerMany(db, who, ManyMedia.parse(body).media)
    : registerMedium(db, who, NewMedium.parse(body));
});
