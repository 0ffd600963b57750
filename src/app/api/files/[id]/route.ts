import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { fileBytes, filePreview, fileToHear } from '@/server/features/copies/downloads';
import { handOut, unlessHeld } from '@/server/features/rights/handing-out';
import { mediaOfFile } from '@/server/features/rights/media-of';
import { soundAsWav } from '@/server/features/sounds/sound-as-wav';

export const dynamic = 'force-dynamic';
export const GET = route<{ id: string }>(async (context) => {
  const { request, params, db } = context;
  const { searchParams } = new URL(request.url);
  const id = rowId(params.id);
  // To look at a file in place hands nothing out.
  if (searchParams.has('preview')) return filePreview(db, id);
  const media = await mediaOfFile(db, id);
  if (searchParams.has('listen')) return unlessHeld(context, media, () => fileToHear(db, id));
  const acknowledges = searchParams.has('knowing');
  return handOut(context, media, () =>
    searchParams.has('wav') ? soundAsWav(db, id, acknowledges) : fileBytes(db, id, acknowledges),
  );
});
