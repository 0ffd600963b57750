import { z } from 'zod';
import { route } from '@/server/http/respond';
import { blankStock } from '@/server/services/blanks';
import { emptyQueue, listQueue, queueReturns, ReturnWish } from '@/server/services/returns';

const Change = z.union([z.object({ empty: z.int().min(1) }), ReturnWish]);
export const dynamic = 'force-dynamic';
export const GET = route(async ({ db }) => ({
  waiting: await listQueue(db),
  stock: await blankStock(db),
}));
export const POST = route(async ({ request, db, operator }) => {
  const change = Change.parse(await request.json());
  const who = await operator();
  return 'empty' in change ? emptyQueue(db, who, change.empty) : queueReturns(db, who, change);
});
