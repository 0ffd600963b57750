import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { actOnAssembly, AssemblyAction } from '@/server/features/assemblies/assemblies';
import { assemblyView } from '@/server/features/assemblies/queries';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ db, params }) => assemblyView(db, rowId(params.id)));
export const POST = route<{ id: string }>(async ({ request, db, params, operator }) =>
  actOnAssembly(
    db,
    await operator(),
    rowId(params.id),
    AssemblyAction.parse(await jsonOf(request)),
  ),
);
