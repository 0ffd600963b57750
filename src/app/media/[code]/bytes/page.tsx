import { BytesView } from '@/ui/copies/bytes/bytes-view';
import { WithDocket } from '../with-docket';

export const dynamic = 'force-dynamic';

export default async function BytesPage({ params }: { params: Promise<{ code: string }> }) {
  const code = decodeURIComponent((await params).code);
  return (
    <WithDocket code={code}>
      <BytesView code={code} />
    </WithDocket>
  );
}
