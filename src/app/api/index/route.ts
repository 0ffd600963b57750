import { route } from '@/server/http/respond';
import { indexExport } from '@/server/services/index-export';

export const dynamic = 'force-dynamic';
export const GET = route(async ({ request, db }) =>
  indexExport(db, new URL(request.url).searchParams.get('as') === 'json'),
);
