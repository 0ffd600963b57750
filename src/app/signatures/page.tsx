import { allRules } from '@/server/services/signatures';
import { rulesQuery } from '@/ui/data/queries';
import { SignaturesView } from '@/ui/signatures/signatures-view';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Signatures() {
  return (
    <FirstAnswers answers={[{ key: rulesQuery.queryKey, fetch: (db) => allRules(db) }]}>
      <SignaturesView />
    </FirstAnswers>
  );
}
