import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { soundOfAssembly } from '@/server/features/assemblies/heard-sound';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, db, params }) =>
  soundOfAssembly(db, rowId(params.id), new URL(request.url).searchParams.get('path') ?? ''),
);
