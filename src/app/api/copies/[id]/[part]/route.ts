import { route, rowId } from '@/server/http/respond';
import { copyPart } from '@/server/services/handing-out';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string; part: string }>(({ params, db, request }) => {
  const { searchParams } = new URL(request.url);
  return copyPart(db, rowId(params.id), params.part, searchParams.get('kind'), searchParams.has('knowing'));
});
