import { z } from 'zod';
import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { certificateDownload } from '@/server/features/writebacks/certificates';

const Question = z.object({
  as: z.enum(['pdf', 'json']).default('pdf'),
  edition: z.enum(['first', 'latest']).default('first'),
});
export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, db, params }) => {
  const { as, edition } = Question.parse(Object.fromEntries(new URL(request.url).searchParams));
  return certificateDownload(db, rowId(params.id), as, edition);
});
