import { route } from '@/server/features/operators/route';
import { indexExport } from '@/server/features/holdings/index-export';

export const dynamic = 'force-dynamic';
export const GET = route(async ({ request, db }) =>
  indexExport(db, new URL(request.url).searchParams.get('as') === 'json'),
);
