import { route } from '@/server/features/operators/route';
import { startWriteback } from '@/server/features/writebacks/writebacks';
import { WritebackRequest } from '@/server/features/writebacks/start-writeback';
import { listWritebacks } from '@/server/features/writebacks/queries';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listWritebacks(db));
export const POST = route(async ({ request, db, operator }) => ({
  writebackId: await startWriteback(
    db,
    await operator(),
    WritebackRequest.parse(await jsonOf(request)),
  ),
}));
