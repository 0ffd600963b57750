import { listArrivals } from '@/server/features/media/arrivals';
import { ArrivalsView } from '@/ui/media/arrivals-view';
import { arrivalsQuery, FIRST_ARRIVALS } from '@/ui/data/queries';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Arrivals() {
  return (
    <PrefetchBoundary
      answers={[
        {
          key: arrivalsQuery(FIRST_ARRIVALS).queryKey,
          fetch: (db) => listArrivals(db, FIRST_ARRIVALS),
        },
      ]}
    >
      <ArrivalsView />
    </PrefetchBoundary>
  );
}
