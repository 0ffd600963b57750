import { route } from '@/server/http/respond';
import { listAssemblies, NewAssembly, startAssembly } from '@/server/services/assemblies';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listAssemblies(db));
export const POST = route(async ({ request, db, operator }) =>
  startAssembly(db, await operator(), NewAssembly.parse(await request.json())),
);
