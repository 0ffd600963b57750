/**
 * Read-only WebDAV (RFC 4918, class 1) over a tree: OPTIONS, GET, HEAD and PROPFIND of depth 0 and 1.
 * Whatever would write is refused. Answers to this computer alone, by its own names.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { answerFile } from './file-answer';
import { folderPage } from './folder-page';
import { multistatus, type Placed } from './multistatus';
import { DavRefusal, nodeAt, type DavFolder, type DavNode } from './node';
import { askedIn, NotAsked, type Asked } from './propfind';
import { BodyTooLarge, limitedBody } from './request-body';
import { pathIn } from './request-path';

const ALLOWED = 'OPTIONS, GET, HEAD, PROPFIND';
const MAX_BODY = 64 << 10;

interface DavOptions {
  /** As it is when it is asked for. */
  root(): Promise<DavFolder>;
  /** What went wrong that is nobody's asking. */
  onError(error: unknown): void;
}

const OWN_NAMES = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/i;

/** A page of another name that was made to lead here is not answered. */
const isOwnName = ({ headers }: IncomingMessage): boolean => OWN_NAMES.test(headers.host ?? '');

/** Something in a page of another place: nobody asked for it. A link that is followed is asked for. */
const isFromElsewhere = ({ headers }: IncomingMessage): boolean =>
  headers['sec-fetch-site'] === 'cross-site' && headers['sec-fetch-mode'] !== 'navigate';

function say(response: ServerResponse, status: number, words = ''): void {
  const body = Buffer.from(words && `${words}\n`);
  response.writeHead(status, {
    'content-type': 'text/plain; charset=utf-8',
    'content-length': body.length,
    'x-content-type-options': 'nosniff',
  });
  response.end(body);
}

function sayXml(response: ServerResponse, status: number, inside: string): void {
  const body = Buffer.from(
    `<?xml version="1.0" encoding="utf-8"?>\n<D:error xmlns:D="DAV:">${inside}</D:error>\n`,
  );
  const type = 'application/xml; charset=utf-8';
  response.writeHead(status, { 'content-type': type, 'content-length': body.length });
  response.end(body);
}

/** A node and, where that is asked for, what is in it. */
async function placedAt(path: readonly string[], node: DavNode, depth: string): Promise<Placed[]> {
  const own = { path, node };
  if (depth === '0' || node.kind === 'file') return [own];
  const members = await node.members();
  return [own, ...[...members].map(([name, each]) => ({ path: [...path, name], node: each }))];
}

async function askedOf(request: IncomingMessage, response: ServerResponse): Promise<Asked | null> {
  try {
    return askedIn(await limitedBody(request, MAX_BODY));
  } catch (error) {
    if (error instanceof BodyTooLarge) say(response, 413);
    else if (error instanceof NotAsked) say(response, 400, error.message);
    else throw error;
    return null;
  }
}

async function answerFind(
  request: IncomingMessage,
  response: ServerResponse,
  path: readonly string[],
  node: DavNode,
): Promise<void> {
  const asked = await askedOf(request, response);
  if (!asked) return;
  const depth = String(request.headers.depth ?? 'infinity').toLowerCase();
  if (depth === 'infinity') return sayXml(response, 403, '<D:propfind-finite-depth/>');
  if (depth !== '0' && depth !== '1') return say(response, 400, 'Depth is 0 or 1.');
  const placed = await placedAt(path, node, depth);
  response.writeHead(207, { 'content-type': 'application/xml; charset=utf-8' });
  await pipeline(Readable.from(multistatus(placed, asked)), response);
}

async function answerGet(
  request: IncomingMessage,
  response: ServerResponse,
  path: readonly string[],
  node: DavNode,
): Promise<void> {
  if (node.kind === 'file') return answerFile(request, response, node);
  const page = Buffer.from(folderPage(path, await node.members()));
  response.writeHead(200, {
    'content-type': 'text/html; charset=utf-8',
    'content-length': page.length,
    'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'",
    'x-content-type-options': 'nosniff',
  });
  response.end(request.method === 'HEAD' ? undefined : page);
}

async function answer(
  request: IncomingMessage,
  response: ServerResponse,
  root: () => Promise<DavFolder>,
): Promise<void> {
  const { method } = request;
  if (!isOwnName(request)) return say(response, 421);
  if (isFromElsewhere(request)) return say(response, 403);
  if (method === 'OPTIONS') {
    response.writeHead(200, { dav: '1', allow: ALLOWED, 'content-length': 0 });
    response.end();
    return;
  }
  if (method !== 'GET' && method !== 'HEAD' && method !== 'PROPFIND') {
    response.setHeader('allow', ALLOWED);
    return say(response, 405, 'Nothing is written here.');
  }
  const path = pathIn(request.url ?? '/');
  if (!path) return say(response, 400);
  const node = await nodeAt(await root(), path.parts);
  // A file is no folder, also where it is asked for as one.
  if (!node || (node.kind === 'file' && path.isFolder)) return say(response, 404);
  return method === 'PROPFIND'
    ? answerFind(request, response, path.parts, node)
    : answerGet(request, response, path.parts, node);
}

/** Readers go away in the middle of an answer: that is nobody's fault. */
const isGone = (error: unknown): boolean =>
  ['ERR_STREAM_PREMATURE_CLOSE', 'ECONNRESET', 'EPIPE'].includes(
    (error as NodeJS.ErrnoException).code ?? '',
  );

export function davHandler({ root, onError }: DavOptions) {
  return (request: IncomingMessage, response: ServerResponse): void => {
    // What nobody wants to know is let pass, so that the connection goes on.
    response.on('finish', () => request.resume());
    answer(request, response, root).catch((error: unknown) => {
      if (!(error instanceof DavRefusal) && !isGone(error)) onError(error);
      // What began is broken off: nobody takes a part for the whole.
      if (response.headersSent) return void response.destroy();
      if (error instanceof DavRefusal) say(response, error.status, error.message);
      else say(response, 500);
    });
  };
}
