import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { SoundsQuestion, soundsOfCopy } from '@/server/features/sounds/queries';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, params, db }) =>
  soundsOfCopy(
    db,
    rowId(params.id),
    SoundsQuestion.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
