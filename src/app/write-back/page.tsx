import { listWritebacks } from '@/server/features/writebacks/queries';
import { writebacksQuery } from '@/ui/data/queries';
import { WritebacksView } from '@/ui/writebacks/writebacks-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function WriteBackPage() {
  return (
    <PrefetchBoundary
      answers={[{ key: writebacksQuery.queryKey, fetch: (db) => listWritebacks(db) }]}
    >
      <WritebacksView />
    </PrefetchBoundary>
  );
}
