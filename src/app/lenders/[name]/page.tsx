import { NamedView } from '@/ui/records/named/named-view';
import { WithNamed } from '../../with-named';

export const dynamic = 'force-dynamic';

export default async function Page({ params }: { params: Promise<{ name: string }> }) {
  const name = decodeURIComponent((await params).name);
  return (
    <WithNamed kind="lenders" name={name}>
      <NamedView kind="lenders" name={name} />
    </WithNamed>
  );
}
