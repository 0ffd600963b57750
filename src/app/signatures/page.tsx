import { allRules } from '@/server/features/signatures/signatures';
import { rulesQuery } from '@/ui/data/queries';
import { SignaturesView } from '@/ui/signatures/signatures-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Signatures() {
  return (
    <PrefetchBoundary answers={[{ key: rulesQuery.queryKey, fetch: (db) => allRules(db) }]}>
      <SignaturesView />
    </PrefetchBoundary>
  );
}
