import { roomView } from '@/server/features/housekeeping/room';
import { careView } from '@/server/features/second-store/care';
import { fixityQuery } from '@/ui/data/queries';
import { roomQuery } from '@/ui/data/paper-queries';
import { FixityView } from '@/ui/fixity/fixity-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Fixity() {
  return (
    <PrefetchBoundary
      answers={[
        { key: fixityQuery.queryKey, fetch: (db) => careView(db) },
        { key: roomQuery.queryKey, fetch: roomView },
      ]}
    >
      <FixityView />
    </PrefetchBoundary>
  );
}
