import { route } from '@/server/features/operators/route';
import { ExportQuestion, ledgerExport } from '@/server/features/ledger/ledger-export';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) =>
  ledgerExport(db, ExportQuestion.parse(Object.fromEntries(new URL(request.url).searchParams))),
);
