import { HearingView } from '@/ui/sounds/hearing/hearing-view';
import { WithDocket } from '../with-docket';

export const dynamic = 'force-dynamic';

export default async function HearingPage({ params }: { params: Promise<{ code: string }> }) {
  const code = decodeURIComponent((await params).code);
  return (
    <WithDocket code={code}>
      <HearingView code={code} />
    </WithDocket>
  );
}
