import { listAssemblies } from '@/server/services/assemblies';
import { listLayouts } from '@/server/services/layouts';
import { AssembliesView } from '@/ui/assembly/assemblies-view';
import { assembliesQuery, layoutsQuery } from '@/ui/data/queries';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Assemblies() {
  return (
    <FirstAnswers
      answers={[
        { key: assembliesQuery.queryKey, fetch: (db) => listAssemblies(db) },
        { key: layoutsQuery.queryKey, fetch: (db) => listLayouts(db) },
      ]}
    >
      <AssembliesView />
    </FirstAnswers>
  );
}
