import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { FindQuestion, findInImage } from '@/server/features/copies/image-bytes';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, params, db }) =>
  findInImage(
    db,
    rowId(params.id),
    FindQuestion.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
