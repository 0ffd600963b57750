/**
 * Before every page: it is given on this computer only, and with a policy of its own that says what
 * it may run. What is asked of the interface passes by: its routes look for themselves, and uploads
 * must not be held back here.
 */
import { NextResponse, type NextRequest } from 'next/server';
import { said } from '@/core/said';
import { tell } from '@/messages/tell';
import { config as settings } from '@/server/platform/config';
import { isLoopback } from '@/server/platform/http/loopback';
import { pagePolicy } from '@/server/platform/http/page-policy';

const POLICY = 'content-security-policy';

export function proxy(request: NextRequest): NextResponse {
  if (!isLoopback(request.headers.get('host')))
    return new NextResponse(tell(said('platform.thisApplicationAnswersOn')), { status: 403 });
  const nonce = Buffer.from(crypto.getRandomValues(new Uint8Array(16))).toString('base64');
  const policy = pagePolicy(nonce, settings().NODE_ENV === 'development');
  const headers = new Headers(request.headers);
  // The pages' own scripts are given the nonce that stands here.
  headers.set(POLICY, policy);
  headers.set('x-nonce', nonce);
  const answer = NextResponse.next({ request: { headers } });
  answer.headers.set(POLICY, policy);
  return answer;
}

export const config = { matcher: '/((?!api/|_next/|messages$).*)' };
