/** Answers that are neither plain JSON nor a download of many bytes. */
import { ANSWER_POLICY } from './page-policy';

interface InlineOptions {
  name: string;
  type: string;
}

/** Shown in place by the browser itself; a document is handed on to a viewer outside of it. */
const isShownInPlace = (type: string) => /^(image|text)\//.test(type);

/** Somebody else's bytes: they may do nothing, and no type is guessed. */
export function inlineBytes(bytes: Uint8Array, { name, type }: InlineOptions): Response {
  return new Response(new Uint8Array(bytes), {
    headers: {
      'content-type': type,
      'x-content-type-options': 'nosniff',
      'cache-control': 'private, max-age=31536000, immutable',
      'content-disposition':
        `${isShownInPlace(type) ? 'inline' : 'attachment'}; ` +
        `filename*=UTF-8''${encodeURIComponent(name)}`,
      'content-security-policy': `${ANSWER_POLICY}; sandbox`,
    },
  });
}

/** Bytes that the page itself works on. */
export function rawBytes(bytes: Uint8Array): Response {
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' },
  });
}

/** A value as a JSON file. */
export function jsonFile(value: unknown, name: string): Response {
  return new Response(`${JSON.stringify(value, null, 1)}\n`, {
    headers: {
      'content-type': 'application/json',
      'content-disposition': `attachment; filename="${name.replace(/[^A-Za-z0-9+._-]/g, '_')}"`,
      'x-content-type-options': 'nosniff',
    },
  });
}

/** A cookie of ours, kept for so many seconds; none where those are none. */
export const ourCookie = (name: string, value: string, seconds: number): string =>
  `${name}=${encodeURIComponent(value)}; Path=/; Max-Age=${seconds}; SameSite=Strict; HttpOnly`;

/** JSON with cookies of ours set beside it. */
export function jsonWithCookies(body: unknown, cookies: readonly string[]): Response {
  const answer = Response.json(body);
  for (const cookie of cookies) answer.headers.append('set-cookie', cookie);
  return answer;
}

/** Code that a page runs. */
export function script(bytes: Uint8Array): Response {
  return new Response(new Uint8Array(bytes), {
    headers: { 'content-type': 'text/javascript; charset=utf-8', 'cache-control': 'no-cache' },
  });
}
