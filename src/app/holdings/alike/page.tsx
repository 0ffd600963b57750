import { listAlike } from '@/server/features/holdings/alike';
import { alikeQuery } from '@/ui/data/queries';
import { AlikeView } from '@/ui/holdings/alike-view';
import { PrefetchBoundary } from '@/app/prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Alike() {
  return (
    <PrefetchBoundary answers={[{ key: alikeQuery.queryKey, fetch: (db) => listAlike(db) }]}>
      <AlikeView />
    </PrefetchBoundary>
  );
}
