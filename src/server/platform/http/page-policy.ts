/**
 * What a page of ours may load and run (Content Security Policy, level 3): scripts that carry the
 * page's own nonce and what those load, our own styles, and nothing from elsewhere.
 */

/** `nonce` is new for each page; `isDevelopment` lets the tools that reload pages work. */
export function pagePolicy(nonce: string, isDevelopment: boolean): string {
  const evaluation = isDevelopment ? " 'unsafe-eval'" : '';
  return [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${evaluation}`,
    // Charts and menus place things by styles of their own.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    // Tracks of discs are played as they come.
    "media-src 'self'",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "frame-src 'self'",
    "form-action 'self'",
    "base-uri 'none'",
    "object-src 'none'",
    "frame-ancestors 'none'",
  ].join('; ');
}

/** Of answers that are no page: they run nothing, and stand in no page but ours. */
export const ANSWER_POLICY = "default-src 'none'; frame-ancestors 'self'";
