import { route } from '@/server/http/respond';
import { listOwed } from '@/server/services/sets';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listOwed(db));
