import { allParcels } from '@/server/features/bags/all-parcels';
import { ParcelsView } from '@/ui/parcels/parcels-view';
import { parcelsQuery } from '@/ui/data/paper-queries';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Parcels() {
  return (
    <PrefetchBoundary answers={[{ key: parcelsQuery.queryKey, fetch: allParcels }]}>
      <ParcelsView />
    </PrefetchBoundary>
  );
}
