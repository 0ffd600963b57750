import { DocketView } from '@/ui/media/docket/docket-view';
import { WithDocket } from './with-docket';

export const dynamic = 'force-dynamic';

export default async function DocketPage({ params }: { params: Promise<{ code: string }> }) {
  const code = decodeURIComponent((await params).code);
  return (
    <WithDocket code={code}>
      <DocketView code={code} />
    </WithDocket>
  );
}
