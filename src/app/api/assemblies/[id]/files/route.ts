import { limitedBody } from '@/server/http/limited-body';
import { route, rowId } from '@/server/http/respond';
import { addUpload } from '@/server/services/assemblies';
import { MOST_FILE_BYTES } from '@/server/services/assembly-sources';

export const dynamic = 'force-dynamic';
export const POST = route<{ id: string }>(async ({ request, db, params, operator }) => {
  const { searchParams } = new URL(request.url);
  await operator();
  return addUpload(
    db,
    rowId(params.id),
    searchParams.get('name') || 'unnamed',
    searchParams.get('folder') ?? '',
    await limitedBody(request, MOST_FILE_BYTES),
  );
});
