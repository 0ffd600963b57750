import { route } from '@/server/features/operators/route';
import { ledgerExport } from '@/server/features/ledger/ledger-export';

export const dynamic = 'force-dynamic';
export const GET = route(async ({ request, db }) =>
  ledgerExport(db, new URL(request.url).searchParams.get('as') === 'json'),
);
