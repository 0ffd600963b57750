import { z } from 'zod';
import { route } from '@/server/features/operators/route';
import { blankStock } from '@/server/features/assemblies/blanks';
import { WritebackRequest } from '@/server/features/writebacks/start-writeback';
import {
  emptyQueue,
  listQueue,
  queueWritebacks,
} from '@/server/features/writebacks/writeback-queue';
import { jsonOf } from '@/server/platform/http/request-body';

const Change = z.union([z.object({ empty: z.int().min(1) }), WritebackRequest]);
export const dynamic = 'force-dynamic';
export const GET = route(async ({ db }) => ({
  waiting: await listQueue(db),
  stock: await blankStock(db),
}));
export const POST = route(async ({ request, db, operator }) => {
  const change = Change.parse(await jsonOf(request));
  const who = await operator();
  return 'empty' in change ? emptyQueue(db, who, change.empty) : queueWritebacks(db, who, change);
});
