import { Suspense } from 'react';
import { BenchView } from '@/ui/stations/bench-view';
import { PrefetchBoundary } from '../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default function Bench() {
  return (
    <PrefetchBoundary answers={[]}>
      <Suspense>
        <BenchView />
      </Suspense>
    </PrefetchBoundary>
  );
}
