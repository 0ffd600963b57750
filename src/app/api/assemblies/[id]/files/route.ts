import { limitedBody } from '@/server/platform/http/limited-body';
import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { addUpload } from '@/server/features/assemblies/assemblies';
import { MAX_FILE_BYTES } from '@/server/features/assemblies/assembly-sources';

export const dynamic = 'force-dynamic';
export const POST = route<{ id: string }>(async ({ request, db, params, operator }) => {
  const { searchParams } = new URL(request.url);
  await operator();
  return addUpload(
    db,
    rowId(params.id),
    searchParams.get('name') || 'unnamed',
    searchParams.get('folder') ?? '',
    await limitedBody(request, MAX_FILE_BYTES),
  );
});
