import { route, rowId } from '@/server/http/respond';
import { FindQuestion, findInImage } from '@/server/services/image-bytes';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, params, db }) =>
  findInImage(
    db,
    rowId(params.id),
    FindQuestion.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
