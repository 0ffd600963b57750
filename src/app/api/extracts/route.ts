import { route } from '@/server/features/operators/route';
import { NewExtract, listExtracts, startExtract } from '@/server/features/extracts/extracts';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listExtracts(db));
export const POST = route(async ({ request, db, operator }) =>
  startExtract(db, await operator(), NewExtract.parse(await jsonOf(request))),
);
