import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { fileBytes, filePreview, fileToHear } from '@/server/features/copies/downloads';

import { soundAsWav } from '@/server/features/sounds/sound-as-wav';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(({ request, params, db }) => {
  const { searchParams } = new URL(request.url);
  if (searchParams.has('listen')) return fileToHear(db, rowId(params.id));
  const acknowledges = searchParams.has('knowing');
  if (searchParams.has('wav')) return soundAsWav(db, rowId(params.id), acknowledges);
  // To look at a file in place hands nothing out.
  return searchParams.has('preview')
    ? filePreview(db, rowId(params.id))
    : fileBytes(db, rowId(params.id), acknowledges);
});
