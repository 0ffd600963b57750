import { SoundsView } from '@/ui/sounds/sounds-view';
import { WithDocket } from '../with-docket';

export const dynamic = 'force-dynamic';

export default async function SoundsPage({ params }: { params: Promise<{ code: string }> }) {
  const code = decodeURIComponent((await params).code);
  return (
    <WithDocket code={code}>
      <SoundsView code={code} />
    </WithDocket>
  );
}
