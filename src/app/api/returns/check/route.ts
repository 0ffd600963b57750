import { z } from 'zod';
import { route } from '@/server/http/respond';
import { checkReturn } from '@/server/services/return-check';

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
  return checkReturn(db, copy, station, machine || null);
});
