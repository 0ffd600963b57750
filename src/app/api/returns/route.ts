import { z } from 'zod';
import { route } from '@/server/http/respond';
import { RETURN_SOURCES } from '@/server/states';
import { listReturns, startReturn } from '@/server/services/returns';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listReturns(db));

const NewReturn = z.object({ fairCopyId: z.int().min(1), stationId: z.int().min(1), from: z.enum(RETURN_SOURCES).default('image') });
export const POST = route(async ({ request, db, operator }) => {
  const { fairCopyId, stationId, from } = NewReturn.parse(await request.json());
  return { returnId: await startReturn(db, await operator(), fairCopyId, stationId, from) };
});
