import { listLedger } from '@/server/features/ledger/ledger';
import { ledgerQuery } from '@/ui/data/queries';
import { LedgerView } from '@/ui/ledger/ledger-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Ledger() {
  return (
    <PrefetchBoundary answers={[{ key: ledgerQuery.queryKey, fetch: (db) => listLedger(db) }]}>
      <LedgerView />
    </PrefetchBoundary>
  );
}
