import { route } from '@/server/features/operators/route';
import {
  listLines,
  listTransfers,
  NewTransfer,
  startTransfer,
} from '@/server/features/transfers/transfers';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(async ({ db }) => ({
  transfers: await listTransfers(db),
  lines: await listLines().catch(() => []),
}));
export const POST = route(async ({ request, db, operator }) =>
  startTransfer(db, await operator(), NewTransfer.parse(await jsonOf(request))),
);
