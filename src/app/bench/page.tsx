import { Suspense } from 'react';
import { BenchView } from '@/ui/bench/bench-view';
import { FirstAnswers } from '../first-answers';

export const dynamic = 'force-dynamic';

export default function Bench() {
  return (
    <FirstAnswers answers={[]}>
      <Suspense>
        <BenchView />
      </Suspense>
    </FirstAnswers>
  );
}
