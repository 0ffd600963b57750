/**
 * What every route does: refuse other origins, turn failures into sentences, ask who is at work.
 */
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { tell } from '@/messages/tell';
import { sharedConnection, type Database } from '../db/database';
import { isConnectionLost } from '../db/connection-lost';
import { isDiskFull } from '../db/disk-full';
import { UserError } from '../errors';
import { log } from '../log';
import { said } from '@/core/said';
import { isLoopback } from './loopback';
import { ANSWER_POLICY } from './page-policy';
import { isKeepable } from './request-body';

export interface RouteContext<P> {
  request: Request;
  params: P;
  db: Database;
  /** The operator of this request; refuses where nobody said who is at work. */
  operator(): Promise<number>;
}

/** A page of another site may know our port, but not send from our origin. */
function refuseOthers(request: Request): void {
  const host = request.headers.get('host') ?? '';
  if (!isLoopback(host)) throw new UserError(said('platform.thisApplicationAnswersOn'), 403);
  const origin = request.headers.get('origin');
  if (request.method !== 'GET' && origin !== null && hostOf(origin) !== host)
    throw new UserError(said('platform.requestsFromOtherSites'), 403);
}

/** The host of an origin; null of one that is none, such as `null` itself. */
const hostOf = (origin: string): string | null =>
  URL.canParse(origin) ? new URL(origin).host : null;

/** What a path or a query asks for must be text that the database could keep. */
function refuseUnkeepable(request: Request, params: object): void {
  const { searchParams } = new URL(request.url);
  const asked = [...Object.values(params), ...[...searchParams].flat()] as unknown[];
  if (!asked.every((text) => typeof text !== 'string' || isKeepable(text)))
    throw new UserError(said('platform.textThatNoDatabase'), 400);
}

/**
 * Values that no column takes, where nothing before the database refused them: numbers out of range,
 * text that is none or that it has no characters for (SQLSTATE 22003, 22P02, 22021, 22P05).
 */
const UNFIT_DATA = new Set(['22003', '22P02', '22021', '22P05']);

function isUnfitData(error: unknown): boolean {
  const { code, cause } = error as { code?: string; cause?: { code?: string } };
  return UNFIT_DATA.has(code ?? cause?.code ?? '');
}

const json = (body: unknown, status = 200) =>
  Response.json(body, { status, headers: { 'cache-control': 'no-store' } });

function failure(error: unknown): Response {
  if (error instanceof UserError)
    return json({ error: error.message, code: error.code, field: error.field }, error.status);
  if (error instanceof z.ZodError) {
    const fields = Object.fromEntries(
      error.issues.map(({ path, message }) => [path.join('.'), message]),
    );
    return json(
      { error: tell(said('platform.someFields')), code: 'platform.someFields', fields },
      422,
    );
  }
  if (isDiskFull(error)) return failure(new UserError(said('platform.theDiskIsFull'), 507));
  if (isConnectionLost(error)) return failure(new UserError(said('platform.storeIsAway'), 503));
  if (isUnfitData(error)) return failure(new UserError(said('platform.somethingThatNoField'), 400));
  const requestId = randomUUID();
  log().error({ err: error, requestId }, 'request failed');
  return json(
    {
      error: tell(said('platform.somethingWentWrong', { requestId })),
      code: 'platform.somethingWentWrong',
    },
    500,
  );
}

/** What HEAD asks for: nothing is made of what would follow. */
async function withoutBody(answer: Response): Promise<Response> {
  await answer.body?.cancel();
  return new Response(null, answer);
}

/** No answer runs anything, or stands in the page of another. */
function guarded(answer: Response): Response {
  if (!answer.headers.has('content-security-policy'))
    answer.headers.set('content-security-policy', ANSWER_POLICY);
  return answer;
}

/** Who is at work, by the request; refuses where nobody said so. */
type Identify = (db: Database, request: Request) => Promise<number>;

/** Gives what makes a route handler of a function that gives a value for JSON, or a Response. */
export function routesFor(identify: Identify) {
  return function route<P = Record<string, never>>(
    work: (context: RouteContext<P>) => Promise<unknown>,
  ) {
    return async (request: Request, { params }: { params: Promise<P> }): Promise<Response> => {
      try {
        refuseOthers(request);
        const { db } = sharedConnection();
        const operator = async () => identify(db, request);
        const own = await params;
        refuseUnkeepable(request, (own ?? {}) as object);
        const result = await work({ request, params: own, db, operator });
        const answer = guarded(result instanceof Response ? result : json(result ?? { ok: true }));
        return request.method === 'HEAD' ? await withoutBody(answer) : answer;
      } catch (error) {
        return guarded(failure(error));
      }
    };
  };
}

/** A row number in a path. */
export function rowId(text: string): number {
  const id = Number(text);
  if (!Number.isInteger(id) || id < 1 || id > 2 ** 31 - 1)
    throw new UserError(said('platform.thereIsNoSuch'), 404);
  return id;
}

/** Bytes that are there already, as a download. */
export const downloadBytes = (bytes: Uint8Array, name: string, type?: string): Response =>
  download(
    (async function* () {
      yield bytes;
    })(),
    name,
    bytes.length,
    type,
  );

/** A stream of bytes as a download, its name safe in a header; `size` where it is known before. */
export function download(
  bytes: AsyncGenerator<Uint8Array>,
  name: string,
  size: number | null,
  type = 'application/octet-stream',
): Response {
  const ascii = name.replace(/[^\x20-\x7e]|["\\]/g, '_');
  const stream = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { done, value } = await bytes.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
    async cancel() {
      await bytes.return(undefined);
    },
  });
  return new Response(stream, {
    headers: {
      'content-type': type,
      ...(size !== null && { 'content-length': String(size) }),
      'x-content-type-options': 'nosniff',
      'cache-control': 'no-store',
      'content-disposition': `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(name)}`,
    },
  });
}

/** What a download is to be saved as; empty of an answer that is none. */
export function nameOfDownload({ headers }: Response): string {
  const disposition = headers.get('content-disposition') ?? '';
  return decodeURIComponent(/filename\*=UTF-8''([^;]+)/.exec(disposition)?.[1] ?? '');
}
