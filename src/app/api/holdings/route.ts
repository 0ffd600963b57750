import { route } from '@/server/http/respond';
import { searchHoldings } from '@/server/services/holdings';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) =>
  searchHoldings(db, Object.fromEntries(new URL(request.url).searchParams)),
);
