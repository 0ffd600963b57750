import { listRecords } from '@/server/features/descriptions/record-lists';
import { RecordsView } from '@/ui/records/records-view';
import { recordsQuery } from '@/ui/data/queries';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Records() {
  return (
    <PrefetchBoundary
      answers={[{ key: recordsQuery('').queryKey, fetch: (db) => listRecords(db, {}) }]}
    >
      <RecordsView />
    </PrefetchBoundary>
  );
}
