import { z } from 'zod';
import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import {
  confirmOverwrite,
  giveUpWriteback,
  OutcomeTold,
  tellOutcome,
} from '@/server/features/writebacks/writebacks';
import { jsonOf } from '@/server/platform/http/request-body';

const Answer = z.union([
  z.object({ typed: z.string().max(40) }),
  z.object({ giveUp: z.literal(true) }),
  OutcomeTold,
]);
export const POST = route<{ id: string }>(async ({ request, params, db, operator }) => {
  const answer = Answer.parse(await jsonOf(request));
  const [who, id] = [await operator(), rowId(params.id)];
  if ('typed' in answer) return confirmOverwrite(db, who, id, answer.typed);
  return 'outcome' in answer ? tellOutcome(db, who, id, answer) : giveUpWriteback(db, who, id);
});
