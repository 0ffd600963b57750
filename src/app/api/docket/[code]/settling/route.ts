import { z } from 'zod';
import { hurrySettling, settleByAllTurns } from '@/server/features/copies/settling/settlings';
import { route } from '@/server/features/operators/route';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';

const Asked = z.object({ by: z.enum(['all-turns', 'single-turns']) });

export const POST = route<{ code: string }>(async ({ request, db, params, operator }) => {
  const operatorId = await operator();
  const { by } = Asked.parse(await jsonOf(request));
  const settle = by === 'all-turns' ? settleByAllTurns : hurrySettling;
  return settle(db, operatorId, params.code);
});
