import { route } from '@/server/features/operators/route';
import {
  listWritebacks,
  WritebackRequest,
  startWriteback,
} from '@/server/features/writebacks/writebacks';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listWritebacks(db));
export const POST = route(async ({ request, db, operator }) => ({
  writebackId: await startWriteback(
    db,
    await operator(),
    WritebackRequest.parse(await request.json()),
  ),
}));
