import { searchHoldings } from '@/server/features/holdings/holdings';
import { listExtracts } from '@/server/features/extracts/extracts';
import { extractsQuery, holdingsQuery } from '@/ui/data/queries';
import { HoldingsView } from '@/ui/holdings/holdings-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Holdings() {
  return (
    <PrefetchBoundary
      answers={[
        { key: holdingsQuery({ q: '' }).queryKey, fetch: (db) => searchHoldings(db, { q: '' }) },
        { key: extractsQuery.queryKey, fetch: (db) => listExtracts(db) },
      ]}
    >
      <HoldingsView />
    </PrefetchBoundary>
  );
}
