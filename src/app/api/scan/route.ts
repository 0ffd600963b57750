import { z } from 'zod';
import { route } from '@/server/features/operators/route';
import { takeScan } from '@/server/features/stations/scanned-labels';
import { jsonOf } from '@/server/platform/http/request-body';

const Scan = z.object({
  code: z.string().max(60),
  station: z.int().min(1).max(999).nullable().default(null),
});
export const POST = route(async ({ request, db, operator }) => {
  const { code, station } = Scan.parse(await jsonOf(request));
  return takeScan(db, await operator(), code, station);
});
