import { listReturns } from '@/server/services/returns';
import { returnsQuery } from '@/ui/data/queries';
import { ReturnsView } from '@/ui/returns/returns-view';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Returns() {
  return (
    <FirstAnswers answers={[{ key: returnsQuery.queryKey, fetch: (db) => listReturns(db) }]}>
      <ReturnsView />
    </FirstAnswers>
  );
}
