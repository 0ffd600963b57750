import type { Database } from '@/server/platform/db/database';
import { lotReport } from '@/server/features/receipts/lot-report';
import { lotReportQuery } from '@/ui/data/paper-queries';
import { ReportView } from '@/ui/receipts/report-view';
import { orNotFound } from '../../../or-not-found';
import { PrefetchBoundary } from '../../../prefetch-boundary';

export const dynamic = 'force-dynamic';

export default async function Report({ params }: { params: Promise<{ name: string }> }) {
  const name = decodeURIComponent((await params).name);
  const report = {
    key: lotReportQuery(name).queryKey,
    fetch: (db: Database) => lotReport(db, name).catch(orNotFound),
  };
  return (
    <PrefetchBoundary answers={[report]}>
      <ReportView name={name} />
    </PrefetchBoundary>
  );
}
