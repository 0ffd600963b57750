import { ledgerOfSitting, listLedger } from '@/server/services/ledger';
import { route, rowId } from '@/server/http/respond';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) => {
  const sitting = new URL(request.url).searchParams.get('sitting');
  return sitting ? ledgerOfSitting(db, rowId(sitting)) : listLedger(db);
});
