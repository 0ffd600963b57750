import { SheetView } from '@/ui/sounds/sheet/sheet-view';
import { WithDocket } from '../../with-docket';

export const dynamic = 'force-dynamic';

export default async function SheetPage({ params }: { params: Promise<{ code: string }> }) {
  const code = decodeURIComponent((await params).code);
  return (
    <WithDocket code={code}>
      <SheetView code={code} />
    </WithDocket>
  );
}
