import { z } from 'zod';
import { route, rowId } from '@/server/http/respond';
import { BlockReachInput, answerBlockPreview } from '@/server/services/block-sittings';
import { answerPreview, askSitting, sittingView } from '@/server/services/sittings';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db }) => sittingView(db, rowId(params.id)));

const position = z.int().min(0).max(255);
const Wanted = z.union([
  z.object({ wanted: z.enum(['pause', 'stop', 'go-on']) }),
  z.object({ wanted: z.literal('read-blocks'), reach: BlockReachInput }),
  z.object({
    wanted: z.literal('read'),
    reach: z.object({
      from: position,
      to: position,
      heads: z
        .array(z.int().min(0).max(1))
        .min(1)
        .max(2)
        .refine((heads) => new Set(heads).size === heads.length, 'A head stands twice.'),
      step: z.union([z.literal(1), z.literal(2)]),
    }),
  }),
]);
export const POST = route<{ id: string }>(async ({ request, params, db, operator }) => {
  const body = Wanted.parse(await request.json());
  const who = await operator();
  if (body.wanted === 'read-blocks')
    return answerBlockPreview(db, who, rowId(params.id), body.reach);
  return body.wanted === 'read'
    ? answerPreview(db, who, rowId(params.id), body.reach)
    : askSitting(db, who, rowId(params.id), body.wanted);
});
