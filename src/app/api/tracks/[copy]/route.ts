import { UserError, said } from '@/server/platform/errors';
import { rawBytes } from '@/server/platform/http/answers';
import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { trackCapture } from '@/server/features/sittings/tracks/track-readings';

export const dynamic = 'force-dynamic';
export const GET = route<{ copy: string }>(async ({ request, db, params }) => {
  const { searchParams } = new URL(request.url);
  const [cylinder, head] = [Number(searchParams.get('cylinder')), Number(searchParams.get('head'))];
  if (!Number.isInteger(cylinder) || cylinder < 0 || cylinder > 255 || (head !== 0 && head !== 1))
    throw new UserError(said('requests.thereIsNoSuch'), 404);
  return rawBytes(await trackCapture(db, rowId(params.copy), cylinder, head));
});
