import { searchHoldings } from '@/server/services/media';
import { route } from '@/server/http/respond';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) => searchHoldings(db, (new URL(request.url).searchParams.get('q') ?? '').slice(0, 200)));
