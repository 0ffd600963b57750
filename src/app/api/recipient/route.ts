import { jsonWithCookie } from '@/server/platform/http/answers';
import { route } from '@/server/features/operators/route';
import { Recipient } from '@/server/features/rights/new-rights';
import { RECIPIENT_COOKIE } from '@/server/features/rights/recipient';
import { jsonOf } from '@/server/platform/http/request-body';

export const dynamic = 'force-dynamic';
const DAY = 24 * 3600;
/** For whom this browser takes things out. For the working day: the next one begins with nobody. */
export const POST = route(async ({ request }) => {
  const { recipient } = Recipient.parse(await jsonOf(request));
  const lasting = `Max-Age=${recipient ? DAY : 0}; SameSite=Strict; HttpOnly`;
  const kept = `${RECIPIENT_COOKIE}=${encodeURIComponent(recipient)}; Path=/`;
  return jsonWithCookie({ recipient }, `${kept}; ${lasting}`);
});
