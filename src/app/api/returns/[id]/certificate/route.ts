import { z } from 'zod';
import { route, rowId } from '@/server/http/respond';
import { certificateDownload } from '@/server/services/certificates';

const Question = z.object({ as: z.enum(['pdf', 'json']).default('pdf') });
export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, db, params }) =>
  certificateDownload(
    db,
    rowId(params.id),
    Question.parse(Object.fromEntries(new URL(request.url).searchParams)).as,
  ),
);
