import { route } from '@/server/features/operators/route';
import { NewReceipt } from '@/server/features/receipts/new-receipt';
import { handBacks } from '@/server/features/receipts/queries';
import { makeReceipt } from '@/server/features/receipts/receipts';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => handBacks(db));
export const POST = route(async ({ request, db, operator }) =>
  makeReceipt(db, await operator(), NewReceipt.parse(await jsonOf(request))),
);
