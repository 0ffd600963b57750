import { route, rowId } from '@/server/http/respond';
import { BytesQuestion, imageBytes } from '@/server/services/image-bytes';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, params, db }) =>
  imageBytes(
    db,
    rowId(params.id),
    BytesQuestion.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
