/** Requests: what the server says stands in the error, and what does not answer is said too. */
import { ApiError, get, isRefusedFor, post, remove, troubleOf, upload } from './api';

const asked: { path: string; init: RequestInit | undefined }[] = [];

function answer(status: number, body: unknown): void {
  globalThis.fetch = (async (path: string, init?: RequestInit) => {
    asked.push({ path, init });
    return new Response(typeof body === 'string' ? body : JSON.stringify(body), { status });
  }) as typeof fetch;
}

const refusal = async (work: Promise<unknown>): Promise<ApiError> => {
  const error = await work.then(
    () => null,
    (failed: unknown) => failed,
  );
  expect(error).toBeInstanceOf(ApiError);
  return error as ApiError;
};

beforeEach(() => asked.splice(0));

test('what is answered is given', async () => {
  answer(200, { id: 7 });
  await expect(get('/api/x')).resolves.toEqual({ id: 7 });
  expect(asked).toEqual([{ path: '/api/x', init: undefined }]);
});

test('a body is sent as JSON, a file as it is, and nothing with what is removed', async () => {
  answer(200, {});
  await post('/api/x', { name: 'é' });
  await upload('/api/y', new Blob(['bytes']));
  await remove('/api/z');
  expect(asked.map(({ path, init }) => [path, init!.method])).toEqual([
    ['/api/x', 'POST'],
    ['/api/y', 'POST'],
    ['/api/z', 'DELETE'],
  ]);
  expect(asked[0]!.init!.body).toBe('{"name":"é"}');
  expect(asked[0]!.init!.headers).toEqual({ 'content-type': 'application/json' });
  expect(asked[1]!.init!.headers).toEqual({ 'content-type': 'application/octet-stream' });
});

test('an error keeps its sentence, its status, its code and its fields', async () => {
  answer(422, { error: 'Say what it is.', code: 'field', fields: { title: 'Say what it is.' } });
  const error = await refusal(get('/api/x'));
  expect([error.message, error.status, error.fields]).toEqual([
    'Say what it is.',
    422,
    { title: 'Say what it is.' },
  ]);
  expect(isRefusedFor(error, 'field' as never)).toBe(true);
  expect(isRefusedFor(error, 'other' as never)).toBe(false);
  expect(isRefusedFor(new Error('Say what it is.'), 'field' as never)).toBe(false);
});

test('one field that is named without its own sentence has that of the error', async () => {
  answer(409, { error: 'TST-0001 is taken.', field: 'code' });
  expect((await refusal(get('/api/x'))).fields).toEqual({ code: 'TST-0001 is taken.' });
});

test('an error page that is no JSON is an error like any other', async () => {
  answer(502, '<html>bad gateway</html>');
  const error = await refusal(get('/api/x'));
  expect([error.status, error.fields, error.code]).toEqual([502, {}, null]);
  expect(error.message).not.toContain('html');
});

test('a server that cannot be reached has status 0', async () => {
  globalThis.fetch = (async () => {
    throw new TypeError('fetch failed');
  }) as typeof fetch;
  const error = await refusal(get('/api/x'));
  expect(error.status).toBe(0);
  expect(error.message).not.toBe('fetch failed');
});

test('the trouble told is that of the fields, each sentence once, else that of the error', () => {
  expect(troubleOf(null)).toBeNull();
  expect(troubleOf(new Error('Plain.'))).toBe('Plain.');
  expect(troubleOf(new ApiError('All.', 422))).toBe('All.');
  expect(troubleOf(new ApiError('All.', 422, { a: 'One.', b: 'Two.', c: 'One.' }))).toBe(
    'One. Two.',
  );
});
