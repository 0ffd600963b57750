/**
 * Every route with requests that nobody should send: what can't be done is refused with a sentence,
 * and none is answered by 500. `SPINDLE_FUZZ` says how many requests a method of a route gets.
 */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { seededRandom } from '@/core/bits/random';
import { METHODS, fuzzed, type FuzzedRequest } from './hostile-requests';
import { serverSuite } from '../../support/server-suite';

serverSuite({});

const ROOT = join(__dirname, '..', '..', '..', 'src', 'app');
const ROUTES = readdirSync(ROOT, { recursive: true, encoding: 'utf8' })
  .filter((path) => /(^|\/)route\.ts$/.test(path))
  .map((path) => path.replace(/\/route\.ts$/, ''));

const EACH = Number(process.env.SPINDLE_FUZZ ?? 12);

type Handler = (request: Request, context: { params: Promise<object> }) => Promise<Response>;

/** The answer's status and what it says; of a stream no more than its beginning is waited for. */
async function ask(handler: Handler, route: string, request: FuzzedRequest) {
  const { method, params, query, headers, body } = request;
  const abort = new AbortController();
  const answer = await handler(
    new Request(`http://127.0.0.1/${route}?${query}`, {
      method,
      headers: { host: '127.0.0.1', ...headers },
      body: body as BodyInit | null,
      signal: abort.signal,
    }),
    // A route without parameters is given none at all.
    { params: Promise.resolve(route.includes('[') ? params : (undefined as never)) },
  );
  const isJson = answer.headers.get('content-type')?.startsWith('application/json');
  const text = isJson ? await answer.text() : '';
  if (!isJson) await answer.body?.cancel();
  abort.abort();
  return { status: answer.status, text };
}

/** Fields that a refusal names. */
function fieldsIn(text: string): string[] {
  try {
    const { fields } = JSON.parse(text) as { fields?: Record<string, string> };
    return Object.keys(fields ?? {}).map((path) => path.split('.')[0]!);
  } catch {
    return [];
  }
}

test.each(ROUTES)('%s', async (route) => {
  const handlers = (await import(join(ROOT, route, 'route'))) as Record<string, Handler>;
  const parameters = Array.from(route.matchAll(/\[(\w+)\]/g), ([, name]) => name!);
  const wrong: object[] = [];
  for (const method of METHODS) {
    const handler = handlers[method];
    if (!handler) continue;
    const random = seededRandom(`fuzz/${route}/${method}`);
    const wanted = new Set<string>();
    for (let i = 0; i < EACH; i++) {
      const request = fuzzed(random, method, parameters, [...wanted]);
      const { status, text } = await ask(handler, route, request);
      for (const field of fieldsIn(text)) wanted.add(field);
      if (status < 500) continue;
      const body = request.body && Buffer.from(request.body).toString('latin1').slice(0, 200);
      wrong.push({ ...request, body, status, text });
    }
  }
  expect(wrong).toEqual([]);
});
