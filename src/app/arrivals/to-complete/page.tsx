import { listToComplete } from '@/server/features/media/to-complete';
import { ToCompleteView } from '@/ui/media/to-complete-view';
import { toCompleteQuery } from '@/ui/data/queries';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function ToComplete() {
  return (
    <PrefetchBoundary
      answers={[{ key: toCompleteQuery({}).queryKey, fetch: (db) => listToComplete(db, {}) }]}
    >
      <ToCompleteView />
    </PrefetchBoundary>
  );
}
