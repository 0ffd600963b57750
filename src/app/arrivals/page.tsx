import { listArrivals, listLots, nextCode } from '@/server/services/media';
import { ArrivalsView } from '@/ui/arrivals/arrivals-view';
import { arrivalsQuery } from '@/ui/data/queries';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Arrivals() {
  return (
    <FirstAnswers
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
    </FirstAnswers>
  );
}
