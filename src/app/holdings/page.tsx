import { searchHoldings } from '@/server/services/media';
import { holdingsQuery } from '@/ui/data/queries';
import { HoldingsView } from '@/ui/holdings/holdings-view';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Holdings() {
  return <FirstAnswers answers={[{ key: holdingsQuery('').queryKey, fetch: (db) => searchHoldings(db, '') }]}><HoldingsView /></FirstAnswers>;
}
