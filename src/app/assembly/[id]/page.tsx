import { notFound } from 'next/navigation';
import { sharedConnection } from '@/server/platform/db/database';
import { UserError } from '@/server/platform/errors';
import { rowId } from '@/server/platform/http/respond';
import { assemblyView } from '@/server/features/assemblies/queries';
import { AssemblyView } from '@/ui/assemblies/assembly-view';
import { assemblyQuery } from '@/ui/data/queries';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

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
    <PrefetchBoundary answers={[{ key: assemblyQuery(view.id).queryKey, fetch: async () => view }]}>
      <AssemblyView id={view.id} />
    </PrefetchBoundary>
  );
}
