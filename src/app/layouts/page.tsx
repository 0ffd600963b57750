import { listLayouts } from '@/server/features/layouts/layouts';
import { layoutsQuery } from '@/ui/data/queries';
import { LayoutsView } from '@/ui/layouts/layouts-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Layouts() {
  return (
    <PrefetchBoundary answers={[{ key: layoutsQuery.queryKey, fetch: (db) => listLayouts(db) }]}>
      <LayoutsView />
    </PrefetchBoundary>
  );
}
