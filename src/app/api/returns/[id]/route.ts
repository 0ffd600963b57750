import { z } from 'zod';
import { route, rowId } from '@/server/http/respond';
import { confirmOverwrite, giveUpReturn } from '@/server/services/returns';

const Answer = z.union([z.object({ typed: z.string().max(40) }), z.object({ giveUp: z.literal(true) })]);
export const POST = route<{ id: string }>(async ({ request, params, db, operator }) => {
  const answer = Answer.parse(await request.json());
  const who = await operator();
  if ('typed' in answer) return confirmOverwrite(db, who, rowId(params.id), answer.typed);
  return giveUpReturn(db, who, rowId(params.id));
});
