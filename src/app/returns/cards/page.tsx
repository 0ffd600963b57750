import { listCards } from '@/server/services/cards';
import { cardsQuery } from '@/ui/data/queries';
import { CardsView } from '@/ui/returns/cards-view';
import { FirstAnswers } from '../../first-answers';

export const dynamic = 'force-dynamic';

export default function Cards() {
  return (
    <FirstAnswers answers={[{ key: cardsQuery.queryKey, fetch: (db) => listCards(db) }]}>
      <CardsView />
    </FirstAnswers>
  );
}
