import { notFound } from 'next/navigation';
import { sharedConnection } from '@/server/db/database';
import { UserError } from '@/server/errors';
import { rowId } from '@/server/http/respond';
import { assemblyView } from '@/server/services/assemblies';
import { AssemblyView } from '@/ui/assembly/assembly-view';
import { assemblyQuery } from '@/ui/data/queries';
import { FirstAnswers } from '../../first-answers';

export const dynamic = 'force-dynamic';

export default async function Assembly({ params }: { params: Promise<{ id: string }> }) {
  const { id: text } = await params;
  const view = await Promise.resolve()
    .then(() => assemblyView(sharedConnection().db, rowId(text)))
    .catch((error: unknown) => {
      if (error instanceof UserError && error.status === 404) notFound();
      throw error;
    });
  return (
    <FirstAnswers answers={[{ key: assemblyQuery(view.id).queryKey, fetch: async () => view }]}>
      <AssemblyView id={view.id} />
    </FirstAnswers>
  );
}
