import { listCards } from '@/server/features/memory-cards/memory-cards';
import { cardsQuery } from '@/ui/data/queries';
import { MemoryCardsView } from '@/ui/memory-cards/memory-cards-view';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Cards() {
  return (
    <PrefetchBoundary answers={[{ key: cardsQuery.queryKey, fetch: (db) => listCards(db) }]}>
      <MemoryCardsView />
    </PrefetchBoundary>
  );
}
