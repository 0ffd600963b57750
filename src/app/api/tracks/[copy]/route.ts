import { UserError } from '@/server/errors';
import { route, rowId } from '@/server/http/respond';
import { trackCapture } from '@/server/services/track-readings';

export const dynamic = 'force-dynamic';
export const GET = route<{ copy: string }>(async ({ request, db, params }) => {
  const { searchParams } = new URL(request.url);
  const [cylinder, head] = [Number(searchParams.get('cylinder')), Number(searchParams.get('head'))];
  if (!Number.isInteger(cylinder) || cylinder < 0 || cylinder > 255 || (head !== 0 && head !== 1))
    throw new UserError('There is no such track.', 404);
  const bytes = await trackCapture(db, rowId(params.copy), cylinder, head);
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' },
  });
});
