import { UserError, said } from '@/server/platform/errors';
import { limitedBody } from '@/server/platform/http/limited-body';
import { route } from '@/server/features/operators/route';
import { PAPER_LIMIT, addPaper } from '@/server/features/media/papers';

export const dynamic = 'force-dynamic';
export const POST = route(async ({ request, db, operator }) => {
  const { searchParams } = new URL(request.url);
  const [code, set] = [searchParams.get('code'), searchParams.get('set')];
  if (!code === !set) throw new UserError(said('requests.aPaperBelongsTo'), 422);
  const who = await operator();
  return addPaper(
    db,
    who,
    code ? { code } : { set: set! },
    searchParams.get('name') || 'unnamed',
    await limitedBody(request, PAPER_LIMIT),
  );
});
