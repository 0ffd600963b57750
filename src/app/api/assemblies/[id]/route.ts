import { route, rowId } from '@/server/http/respond';
import { actOnAssembly, AssemblyAction, assemblyView } from '@/server/services/assemblies';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ db, params }) => assemblyView(db, rowId(params.id)));
export const POST = route<{ id: string }>(async ({ request, db, params, operator }) =>
  actOnAssembly(db, await operator(), rowId(params.id), AssemblyAction.parse(await request.json())),
);
