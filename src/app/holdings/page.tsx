import { searchHoldings } from '@/server/services/holdings';
import { listExtracts } from '@/server/services/extracts';
import { extractsQuery, holdingsQuery } from '@/ui/data/queries';
import { HoldingsView } from '@/ui/holdings/holdings-view';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Holdings() {
  return (
    <FirstAnswers
      answers={[
        { key: holdingsQuery({ q: '' }).queryKey, fetch: (db) => searchHoldings(db, { q: '' }) },
        { key: extractsQuery.queryKey, fetch: (db) => listExtracts(db) },
      ]}
    >
      <HoldingsView />
    </FirstAnswers>
  );
}
