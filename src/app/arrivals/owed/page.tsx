import { listOwed } from '@/server/services/sets';
import { OwedView } from '@/ui/arrivals/owed-view';
import { owedQuery } from '@/ui/data/queries';
import { FirstAnswers } from '../../first-answers';

export const dynamic = 'force-dynamic';

export default function Owed() {
  return (
    <FirstAnswers answers={[{ key: owedQuery.queryKey, fetch: (db) => listOwed(db) }]}>
      <OwedView />
    </FirstAnswers>
  );
}
