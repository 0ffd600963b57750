import { z } from 'zod';
import { route } from '@/server/features/operators/route';
import { checkWriteback } from '@/server/features/writebacks/writeback-check';

const Question = z.object({
  copy: z.coerce.number().int().min(1),
  station: z.coerce.number().int().min(1),
  machine: z.string().max(60).nullable().default(null),
});
export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) => {
  const { copy, station, machine } = Question.parse(
    Object.fromEntries(new URL(request.url).searchParams),
  );
  return checkWriteback(db, copy, station, machine || null);
});
