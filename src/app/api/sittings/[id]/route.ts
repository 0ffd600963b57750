import { z } from 'zod';
import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import {
  BlockRangeInput,
  answerBlockPreview,
} from '@/server/features/sittings/blocks/block-sittings';
import { answerPreview, askSitting, hurrySitting } from '@/server/features/sittings/sittings';
import { sittingView } from '@/server/features/sittings/queries';
import { say } from '@/messages';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db }) => sittingView(db, rowId(params.id)));

const position = z.int().min(0).max(255);
const Wanted = z.union([
  z.object({ requestedAction: z.enum(['pause', 'stop', 'go-on', 'hurry']) }),
  z.object({ requestedAction: z.literal('read-blocks'), range: BlockRangeInput }),
  z.object({
    requestedAction: z.literal('read'),
    range: z.object({
      from: position,
      to: position,
      heads: z
        .array(z.int().min(0).max(1))
        .min(1)
        .max(2)
        .refine((heads) => new Set(heads).size === heads.length, say.forms.aHeadStandsTwice),
      step: z.union([z.literal(1), z.literal(2)]),
    }),
  }),
]);
export const POST = route<{ id: string }>(async ({ request, params, db, operator }) => {
  const body = Wanted.parse(await jsonOf(request));
  const who = await operator();
  if (body.requestedAction === 'read-blocks')
    return answerBlockPreview(db, who, rowId(params.id), body.range);
  if (body.requestedAction === 'hurry') return hurrySitting(db, who, rowId(params.id));
  return body.requestedAction === 'read'
    ? answerPreview(db, who, rowId(params.id), body.range)
    : askSitting(db, who, rowId(params.id), body.requestedAction);
});
