import { listLines, listTransfers } from '@/server/services/transfers';
import { transfersQuery } from '@/ui/data/queries';
import { LinesView } from '@/ui/returns/lines-view';
import { FirstAnswers } from '../../first-answers';

export const dynamic = 'force-dynamic';

export default function Lines() {
  return (
    <FirstAnswers
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
    </FirstAnswers>
  );
}
