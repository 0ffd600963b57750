import { ledgerOfSitting, listLedger } from '@/server/features/ledger/ledger';
import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) => {
  const sitting = new URL(request.url).searchParams.get('sitting');
  return sitting ? ledgerOfSitting(db, rowId(sitting)) : listLedger(db);
});
