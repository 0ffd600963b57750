import { z } from 'zod';
import { jsonWithCookies, ourCookie } from '@/server/platform/http/answers';
import { OPERATOR_COOKIE, operatorName, route } from '@/server/features/operators/route';
import { listOperators, OperatorName, operatorNamed } from '@/server/features/operators/operators';
import { RECIPIENT_COOKIE, recipientIn } from '@/server/features/rights/recipient';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
export const GET = route(async ({ request, db }) => ({
  current: operatorName(request.headers.get('cookie')),
  recipient: recipientIn(request.headers.get('cookie')),
  names: (await listOperators(db)).map(({ name }) => name),
}));

const YEAR = 365 * 24 * 3600;
export const POST = route(async ({ request, db }) => {
  const { name } = z.object({ name: OperatorName }).parse(await jsonOf(request));
  await operatorNamed(db, name);
  return jsonWithCookies({ name }, [
    ourCookie(OPERATOR_COOKIE, name, YEAR),
    // For whom somebody else took things out.
    ourCookie(RECIPIENT_COOKIE, '', 0),
  ]);
});
