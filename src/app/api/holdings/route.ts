import { route } from '@/server/features/operators/route';
import { searchHoldings } from '@/server/features/holdings/holdings';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) =>
  searchHoldings(db, Object.fromEntries(new URL(request.url).searchParams)),
);
