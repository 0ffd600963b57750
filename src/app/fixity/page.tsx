import { fixityView } from '@/server/features/fixity/fixity';
import { fixityQuery } from '@/ui/data/queries';
import { FixityView } from '@/ui/fixity/fixity-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Fixity() {
  return (
    <PrefetchBoundary answers={[{ key: fixityQuery.queryKey, fetch: (db) => fixityView(db) }]}>
      <FixityView />
    </PrefetchBoundary>
  );
}
