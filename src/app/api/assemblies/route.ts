import { route } from '@/server/features/operators/route';
import { NewAssembly, startAssembly } from '@/server/features/assemblies/assemblies';
import { listAssemblies } from '@/server/features/assemblies/queries';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(({ db }) => listAssemblies(db));
export const POST = route(async ({ request, db, operator }) =>
  startAssembly(db, await operator(), NewAssembly.parse(await jsonOf(request))),
);
