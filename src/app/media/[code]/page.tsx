import { notFound } from 'next/navigation';
import { sharedConnection } from '@/server/db/database';
import { UserError } from '@/server/errors';
import { docketOf } from '@/server/services/docket';
import { docketQuery } from '@/ui/data/queries';
import { DocketView } from '@/ui/docket/docket-view';
import { FirstAnswers } from '../../first-answers';

export const dynamic = 'force-dynamic';

export default async function DocketPage({ params }: { params: Promise<{ code: string }> }) {
  const code = decodeURIComponent((await params).code);
  const docket = await docketOf(sharedConnection().db, code).catch((error: unknown) => {
    if (error instanceof UserError && error.status === 404) notFound();
    throw error;
  });
  return <FirstAnswers answers={[{ key: docketQuery(code).queryKey, fetch: async () => docket }]}><DocketView code={code} /></FirstAnswers>;
}
