import { UserError, said } from '@/server/platform/errors';
import { route } from '@/server/features/operators/route';
import { compareKept } from '@/server/features/copies/differences';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) => {
  const { searchParams } = new URL(request.url);
  const [a, b] = [searchParams.get('a'), searchParams.get('b')];
  if (!a || !b) throw new UserError(said('requests.sayWhichTwoAre'));
  return compareKept(db, a, b);
});
