import { handBacks } from '@/server/features/receipts/queries';
import { handBacksQuery } from '@/ui/data/paper-queries';
import { HandBacksView } from '@/ui/receipts/hand-backs-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function HandBacks() {
  return (
    <PrefetchBoundary answers={[{ key: handBacksQuery.queryKey, fetch: handBacks }]}>
      <HandBacksView />
    </PrefetchBoundary>
  );
}
