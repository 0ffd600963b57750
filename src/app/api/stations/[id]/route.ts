import { z } from 'zod';
import { route, rowId } from '@/server/http/respond';
import { startSitting } from '@/server/services/sittings';
import { cleanHead, placeMedium, removeMedium } from '@/server/services/stations';

const Action = z.discriminatedUnion('action', [
  z.object({ action: z.literal('place'), code: z.string().max(40), shelfLabel: z.string().max(80).optional() }),
  z.object({ action: z.literal('remove') }),
  z.object({ action: z.literal('clean') }),
  z.object({ action: z.literal('start'), unattended: z.boolean().default(true) }),
]);

export const POST = route<{ id: string }>(async ({ request, params, db, operator }) => {
  const station = rowId(params.id);
  const body = Action.parse(await request.json());
  const who = await operator();
  switch (body.action) {
    case 'place': return placeMedium(db, who, station, body.code, body.shelfLabel);
    case 'remove': return removeMedium(db, who, station);
    case 'clean': return cleanHead(db, who, station);
    case 'start': return { sittingId: await startSitting(db, who, station, { unattended: body.unattended }) };
  }
});
