import { ledgerOfSitting, listLedger } from '@/server/features/ledger/entries';
import { LedgerQuestion } from '@/server/features/ledger/questions';
import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) => {
  const { sitting, ...asked } = Object.fromEntries(new URL(request.url).searchParams);
  return sitting
    ? ledgerOfSitting(db, rowId(sitting))
    : listLedger(db, LedgerQuestion.parse(asked));
});
