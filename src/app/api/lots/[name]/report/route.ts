import { route } from '@/server/features/operators/route';
import { lotReport, lotReportPdf } from '@/server/features/receipts/lot-report';

export const dynamic = 'force-dynamic';
export const GET = route<{ name: string }>(({ request, db, params }) =>
  new URL(request.url).searchParams.get('as') === 'pdf'
    ? lotReportPdf(db, params.name)
    : lotReport(db, params.name),
);
