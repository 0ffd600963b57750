import { UserError, said } from '@/server/platform/errors';
import { limitedBody } from '@/server/platform/http/limited-body';
import { route } from '@/server/features/operators/route';
import { PAPER_LIMIT, addPaper, type PaperOwner } from '@/server/features/media/papers';

export const dynamic = 'force-dynamic';

/** One of them is named, and one alone. */
function ownerIn(asked: URLSearchParams): PaperOwner {
  const [code, set, lot] = ['code', 'set', 'lot'].map((name) => asked.get(name));
  if ([code, set, lot].filter(Boolean).length !== 1)
    throw new UserError(said('requests.aPaperBelongsTo'), 422);
  return code ? { code } : set ? { set } : { lot: lot! };
}

export const POST = route(async ({ request, db, operator }) => {
  const { searchParams } = new URL(request.url);
  const owner = ownerIn(searchParams);
  const who = await operator();
  return addPaper(
    db,
    who,
    owner,
    searchParams.get('name') || 'unnamed',
    await limitedBody(request, PAPER_LIMIT),
  );
});
