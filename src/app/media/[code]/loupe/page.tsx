import { LoupeView } from '@/ui/loupe/loupe-view';
import { WithDocket } from '../with-docket';

export const dynamic = 'force-dynamic';

export default async function LoupePage({ params }: { params: Promise<{ code: string }> }) {
  const code = decodeURIComponent((await params).code);
  return (
    <WithDocket code={code}>
      <LoupeView code={code} />
    </WithDocket>
  );
}
