import { rowId } from '@/server/platform/http/respond';
import { jsonOf } from '@/server/platform/http/request-body';
import { route } from '@/server/features/operators/route';
import { RateSet, setRate } from '@/server/features/sounds/sound-rates';

export const dynamic = 'force-dynamic';

/** The rate of sounds that do not say theirs, kept with their medium. */
export const POST = route<{ id: string }>(async ({ params, db, request, operator }) =>
  setRate(db, await operator(), rowId(params.id), RateSet.parse(await jsonOf(request))),
);
