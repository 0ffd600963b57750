import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { StringsQuestion, imageStrings } from '@/server/features/copies/image-bytes';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, params, db }) =>
  imageStrings(
    db,
    rowId(params.id),
    StringsQuestion.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
