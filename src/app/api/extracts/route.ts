import { route } from '@/server/http/respond';
import { NewExtract, listExtracts, startExtract } from '@/server/services/extracts';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listExtracts(db));
export const POST = route(async ({ request, db, operator }) =>
  startExtract(db, await operator(), NewExtract.parse(await request.json())),
);
