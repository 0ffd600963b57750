import { listLayouts } from '@/server/services/layouts';
import { layoutsQuery } from '@/ui/data/queries';
import { LayoutsView } from '@/ui/layouts/layouts-view';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Layouts() {
  return (
    <FirstAnswers answers={[{ key: layoutsQuery.queryKey, fetch: (db) => listLayouts(db) }]}>
      <LayoutsView />
    </FirstAnswers>
  );
}
