import { RecordView } from '@/ui/records/record-view';
import { WithRecord } from '../../with-record';

export const dynamic = 'force-dynamic';

export default async function Page({ params }: { params: Promise<{ name: string }> }) {
  const name = decodeURIComponent((await params).name);
  return (
    <WithRecord kind="lots" name={name}>
      <RecordView kind="lots" name={name} />
    </WithRecord>
  );
}
