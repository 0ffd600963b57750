import { route, rowId } from '@/server/http/respond';
import { StringsQuestion, imageStrings } from '@/server/services/image-bytes';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, params, db }) =>
  imageStrings(
    db,
    rowId(params.id),
    StringsQuestion.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
