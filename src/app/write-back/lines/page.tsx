import { listLines, listTransfers } from '@/server/features/transfers/transfers';
import { transfersQuery } from '@/ui/data/queries';
import { LinesView } from '@/ui/transfers/transfers-view';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Lines() {
  return (
    <PrefetchBoundary
      answers={[
        {
          key: transfersQuery.queryKey,
          fetch: async (db) => ({
            transfers: await listTransfers(db),
            lines: await listLines().catch(() => []),
          }),
        },
      ]}
    >
      <LinesView />
    </PrefetchBoundary>
  );
}
