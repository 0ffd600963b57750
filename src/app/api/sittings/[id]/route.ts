import { z } from 'zod';
import { route, rowId } from '@/server/http/respond';
import { askSitting, sittingView } from '@/server/services/sittings';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ params, db }) => sittingView(db, rowId(params.id)));

const Wanted = z.object({ wanted: z.enum(['pause', 'stop', 'go-on']) });
export const POST = route<{ id: string }>(async ({ request, params, db, operator }) => {
  const { wanted } = Wanted.parse(await request.json());
  return askSitting(db, await operator(), rowId(params.id), wanted);
});
