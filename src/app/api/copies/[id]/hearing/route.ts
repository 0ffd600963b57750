import { rowId } from '@/server/platform/http/respond';
import { jsonOf } from '@/server/platform/http/request-body';
import { route } from '@/server/features/operators/route';
import {
  HearingPlace,
  KeptHearing,
  hearingOf,
  keepHearing,
} from '@/server/features/sounds/raw-hearings';

export const dynamic = 'force-dynamic';
/** How a file or a stretch was set to be heard. */
export const GET = route<{ id: string }>(({ params, db, request }) =>
  hearingOf(
    db,
    rowId(params.id),
    HearingPlace.parse(Object.fromEntries(new URL(request.url).searchParams)),
  ),
);
export const POST = route<{ id: string }>(async ({ params, db, request, operator }) =>
  keepHearing(db, await operator(), rowId(params.id), KeptHearing.parse(await jsonOf(request))),
);
