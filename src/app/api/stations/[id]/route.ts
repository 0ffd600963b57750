import { z } from 'zod';
import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { endSelfTest, startSelfTest } from '@/server/features/stations/self-tests';
import { startSitting } from '@/server/features/sittings/sittings';
import { endStack, NewStack, nextOfStack, startStack } from '@/server/features/sittings/stacks';
import { placeMedium, removeMedium } from '@/server/features/stations/placing';
import { cleanHead } from '@/server/features/stations/head-cleaning';
import { jsonOf } from '@/server/platform/http/request-body';

const Action = z.discriminatedUnion('action', [
  z.object({
    action: z.literal('place'),
    code: z.string().max(40),
    shelfLabel: z.string().max(80).optional(),
    scanned: z.boolean().default(false),
  }),
  z.object({ action: z.literal('remove') }),
  z.object({ action: z.literal('clean') }),
  z.object({ action: z.literal('test') }),
  z.object({ action: z.literal('end-test') }),
  z.object({
    action: z.literal('start'),
    unattended: z.boolean().default(true),
    uncleaned: z.boolean().default(false),
  }),
  z.object({ action: z.literal('stack'), stack: NewStack }),
  z.object({ action: z.literal('next') }),
  z.object({ action: z.literal('end-stack') }),
]);

export const POST = route<{ id: string }>(async ({ request, params, db, operator }) => {
  const station = rowId(params.id);
  const body = Action.parse(await jsonOf(request));
  const who = await operator();
  switch (body.action) {
    case 'place':
      return placeMedium(db, who, station, body.code, body);
    case 'remove':
      return removeMedium(db, who, station);
    case 'clean':
      return cleanHead(db, who, station);
    case 'test':
      return { testId: await startSelfTest(db, who, station) };
    case 'end-test':
      return endSelfTest(db, who, station);
    case 'start':
      return { sittingId: await startSitting(db, who, station, body) };
    case 'stack':
      return startStack(db, who, station, body.stack);
    case 'next':
      return nextOfStack(db, who, station);
    case 'end-stack':
      return endStack(db, who, station);
  }
});
