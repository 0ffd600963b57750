import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { BytesQuestion, imageBytes } from '@/server/features/copies/image-bytes';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, params, db }) =>
  imageBytes(
    db,
    rowId(params.id),
    BytesQuestion.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
