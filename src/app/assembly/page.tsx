import { listAssemblies } from '@/server/features/assemblies/queries';
import { listLayouts } from '@/server/features/layouts/layouts';
import { AssembliesView } from '@/ui/assemblies/assemblies-view';
import { assembliesQuery, layoutsQuery } from '@/ui/data/queries';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Assemblies() {
  return (
    <PrefetchBoundary
      answers={[
        { key: assembliesQuery.queryKey, fetch: (db) => listAssemblies(db) },
        { key: layoutsQuery.queryKey, fetch: (db) => listLayouts(db) },
      ]}
    >
      <AssembliesView />
    </PrefetchBoundary>
  );
}
