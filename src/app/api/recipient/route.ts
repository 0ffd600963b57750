import { jsonWithCookies, ourCookie } from '@/server/platform/http/answers';
import { route } from '@/server/features/operators/route';
import { Recipient } from '@/server/features/rights/new-rights';
import { RECIPIENT_COOKIE } from '@/server/features/rights/recipient';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
const DAY = 24 * 3600;
/** For whom this browser takes things out. For the working day: the next one begins with nobody. */
export const POST = route(async ({ request }) => {
  const { recipient } = Recipient.parse(await jsonOf(request));
  return jsonWithCookies({ recipient }, [
    ourCookie(RECIPIENT_COOKIE, recipient, recipient ? DAY : 0),
  ]);
});
