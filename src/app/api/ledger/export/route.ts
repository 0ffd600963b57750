import { route } from '@/server/http/respond';
import { ledgerExport } from '@/server/services/ledger-export';

export const dynamic = 'force-dynamic';
export const GET = route(async ({ request, db }) =>
  ledgerExport(db, new URL(request.url).searchParams.get('as') === 'json'),
);
