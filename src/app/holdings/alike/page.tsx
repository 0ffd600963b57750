import { listAlike } from '@/server/services/alike';
import { alikeQuery } from '@/ui/data/queries';
import { AlikeView } from '@/ui/holdings/alike-view';
import { FirstAnswers } from '../../first-answers';

export const dynamic = 'force-dynamic';

export default function Alike() {
  return (
    <FirstAnswers answers={[{ key: alikeQuery.queryKey, fetch: (db) => listAlike(db) }]}>
      <AlikeView />
    </FirstAnswers>
  );
}
