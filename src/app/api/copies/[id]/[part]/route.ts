import { route, rowId } from '@/server/http/respond';
import { copyPart } from '@/server/services/handing-out';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string; part: string }>(({ params, db, request }) => {
  const { searchParams } = new URL(request.url);
  const volumeId = searchParams.get('volume');
  const folder = volumeId === null ? null : { volumeId: rowId(volumeId), path: searchParams.get('folder') ?? '' };
  const files = searchParams.get('files');
  return copyPart(db, rowId(params.id), params.part, { kind: searchParams.get('kind'), knowing: searchParams.has('knowing'), folder, files: files === null ? null : new Set(files.split(',').map(rowId)), asText: searchParams.has('text') });
});
