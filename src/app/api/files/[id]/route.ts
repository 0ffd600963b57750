import { route, rowId } from '@/server/http/respond';
import { fileBytes, filePreview } from '@/server/services/handing-out';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, params, db }) =>
  (new URL(request.url).searchParams.has('preview') ? filePreview(db, rowId(params.id)) : fileBytes(db, rowId(params.id))));
