import { listLedger } from '@/server/services/ledger';
import { ledgerQuery } from '@/ui/data/queries';
import { LedgerView } from '@/ui/ledger/ledger-view';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Ledger() {
  return (
    <FirstAnswers answers={[{ key: ledgerQuery.queryKey, fetch: (db) => listLedger(db) }]}>
      <LedgerView />
    </FirstAnswers>
  );
}
