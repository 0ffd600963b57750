/** A file, whole or a part of it, under the conditions of RFC 9110 (13 and 14). */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { rangeOf } from '@/core/bits/asked-range';
import type { DavFile } from './node';

const tagsIn = (header: string): string[] =>
  header.split(',').map((tag) => tag.trim().replace(/^W\//, ''));

const isAmong = (header: string, tag: string): boolean =>
  header.trim() === '*' || tagsIn(header).includes(tag);

/** Seconds are all that a date of HTTP has. */
const isNotNewer = (modified: Date, header: string | undefined): boolean =>
  Math.floor(modified.getTime() / 1000) * 1000 <= Date.parse(header ?? '');

/** 412 and 304, in the order of RFC 9110, 13.2.2; null where the file is given. */
function conditionFails({ headers }: IncomingMessage, { modified }: DavFile, tag: string) {
  const match = headers['if-match'];
  if (match !== undefined && !isAmong(match, tag)) return 412;
  const noneMatch = headers['if-none-match'];
  if (noneMatch !== undefined) return isAmong(noneMatch, tag) ? 304 : null;
  return isNotNewer(modified, headers['if-modified-since']) ? 304 : null;
}

/** A part of what it was is not mixed with what it is. */
function rangeAsked({ headers }: IncomingMessage, { size, modified }: DavFile, tag: string) {
  const unless = headers['if-range'];
  const isSame = unless === undefined || unless === tag || unless === modified.toUTCString();
  return isSame ? rangeOf(headers.range, size) : null;
}

export async function answerFile(
  request: IncomingMessage,
  response: ServerResponse,
  file: DavFile,
): Promise<void> {
  const tag = `"${file.tag}"`;
  const common = {
    etag: tag,
    'last-modified': file.modified.toUTCString(),
    'accept-ranges': 'bytes',
    'x-content-type-options': 'nosniff',
    // What is in a file of somebody's does nothing in a browser.
    'content-security-policy': "sandbox; default-src 'none'",
  };
  const failed = conditionFails(request, file, tag);
  const range = failed === null ? rangeAsked(request, file, tag) : null;
  if (failed !== null || range === 'unsatisfiable') {
    const all = range === 'unsatisfiable' && { 'content-range': `bytes */${file.size}` };
    response.writeHead(failed ?? 416, { ...common, ...all, ...(failed !== 304 && EMPTY) });
    response.end();
    return;
  }
  const { start, end } = range ?? { start: 0, end: file.size };
  const headers = {
    ...common,
    'content-type': file.type,
    'content-length': end - start,
    ...(range && { 'content-range': `bytes ${start}-${end - 1}/${file.size}` }),
  };
  if (request.method === 'HEAD') {
    response.writeHead(200, headers);
    response.end();
    return;
  }
  await stream(response, { status: range ? 206 : 200, headers }, file.stream(start, end));
}

const EMPTY = { 'content-length': 0 };

/** What may not be read is refused before anything is answered. */
async function stream(
  response: ServerResponse,
  { status, headers }: { status: number; headers: Record<string, string | number> },
  bytes: AsyncIterable<Uint8Array>,
): Promise<void> {
  const pieces = bytes[Symbol.asyncIterator]();
  const first = await pieces.next();
  const expected = Number(headers['content-length']);
  response.writeHead(status, headers);
  async function* all(): AsyncGenerator<Uint8Array> {
    let sent = 0;
    try {
      for (let each = first; !each.done; each = await pieces.next()) {
        sent += each.value.length;
        yield each.value;
      }
    } finally {
      await pieces.return?.();
    }
    if (sent !== expected) throw new Error(`${sent} bytes of ${expected}`);
  }
  await pipeline(Readable.from(all()), response);
}
