import { nextCode } from '@/server/features/media/codes';
import { listArrivals, listLots } from '@/server/features/media/media';
import { ArrivalsView } from '@/ui/media/arrivals-view';
import { arrivalsQuery } from '@/ui/data/queries';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Arrivals() {
  return (
    <PrefetchBoundary
      answers={[
        {
          key: arrivalsQuery.queryKey,
          fetch: async (db) => ({
            media: await listArrivals(db),
            lots: await listLots(db),
            nextCode: await nextCode(db),
          }),
        },
      ]}
    >
      <ArrivalsView />
    </PrefetchBoundary>
  );
}
