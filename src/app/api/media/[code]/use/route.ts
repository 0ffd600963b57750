import type { z } from 'zod';
import type { Database } from '@/server/platform/db/database';
import { mergeMedia } from '@/server/features/holdings/merging';
import { UseChange } from '@/server/features/media/new-medium';
import { reinstate, withdraw } from '@/server/features/media/withdrawals';
import { route } from '@/server/features/operators/route';
import { jsonOf } from '@/server/platform/http/request-body';

/** Out of use, into use again, or merged into another; gives the code of what stays. */
export const POST = route<{ code: string }>(async ({ request, db, params, operator }) => {
  const change = UseChange.parse(await jsonOf(request));
  return changeUse(db, await operator(), params.code, change);
});

async function changeUse(
  db: Database,
  operatorId: number,
  code: string,
  change: z.output<typeof UseChange>,
): Promise<{ code: string }> {
  if (change.action === 'merge') return mergeMedia(db, operatorId, code, change);
  const act = change.action === 'withdraw' ? withdraw : reinstate;
  await act(db, operatorId, code, change.reason);
  return { code };
}
