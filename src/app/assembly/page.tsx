import { listAssemblies } from '@/server/services/assemblies';
import { AssembliesView } from '@/ui/assembly/assemblies-view';
import { assembliesQuery } from '@/ui/data/queries';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Assemblies() {
  return <FirstAnswers answers={[{ key: assembliesQuery.queryKey, fetch: (db) => listAssemblies(db) }]}><AssembliesView /></FirstAnswers>;
}
