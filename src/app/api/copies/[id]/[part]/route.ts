import { route, rowId } from '@/server/http/respond';
import { copyPart } from '@/server/services/handing-out';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string; part: string }>(({ params, db, request }) => copyPart(db, rowId(params.id), params.part, new URL(request.url).searchParams.get('kind')));
