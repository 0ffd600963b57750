import { careView } from '@/server/features/second-store/care';
import { askForCheck, FixityWanted } from '@/server/features/fixity/fixity';
import { route } from '@/server/features/operators/route';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => careView(db));
export const POST = route(async ({ request, db, operator }) =>
  askForCheck(db, await operator(), FixityWanted.parse(await jsonOf(request))),
);
