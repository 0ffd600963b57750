/**
 * Byte ranges of downloads (RFC 9110, clause 14): one range a request, so that what was broken off
 * goes on.
 */
import { rangeOf } from '@/core/bits/asked-range';
import { download } from './respond';

interface Ranged {
  name: string;
  size: number;
  /** What does not change as long as the bytes do not. */
  tag: string | null;
  type?: string;
  stream(start: number, end: number): AsyncGenerator<Uint8Array>;
}

/** A download that gives the range that was asked for. */
export function rangedDownload(
  headers: Headers,
  { name, size, tag, type, stream }: Ranged,
): Response {
  const etag = tag && `"${tag}"`;
  const unchanged = headers.get('if-range') === null || headers.get('if-range') === etag;
  const range = unchanged ? rangeOf(headers.get('range'), size) : null;
  if (range === 'unsatisfiable')
    return new Response(null, { status: 416, headers: { 'content-range': `bytes */${size}` } });
  const { start, end } = range ?? { start: 0, end: size };
  const response = download(stream(start, end), name, end - start, type);
  response.headers.set('accept-ranges', 'bytes');
  if (etag) response.headers.set('etag', etag);
  if (!range) return response;
  response.headers.set('content-range', `bytes ${start}-${end - 1}/${size}`);
  return new Response(response.body, { status: 206, headers: response.headers });
}
