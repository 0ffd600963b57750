import { listArrivals, nextCode, registerMedium } from '@/server/services/media';
import { NewMedium } from '@/server/services/new-medium';
import { route } from '@/server/http/respond';

export const dynamic = 'force-dynamic';
export const GET = route(async ({ db }) => ({ media: await listArrivals(db), nextCode: await nextCode(db) }));
export const POST = route(async ({ request, db, operator }) => registerMedium(db, await operator(), NewMedium.parse(await request.json())));
