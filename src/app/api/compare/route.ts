import { UserError } from '@/server/errors';
import { route } from '@/server/http/respond';
import { compareKept } from '@/server/services/differences';

export const dynamic = 'force-dynamic';
export const GET = route(({ request, db }) => {
  const { searchParams } = new URL(request.url);
  const [a, b] = [searchParams.get('a'), searchParams.get('b')];
  if (!a || !b) throw new UserError('Say which two are to be compared.');
  return compareKept(db, a, b);
});
