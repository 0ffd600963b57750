/** WebDAV as a client sees it: RFC 4918 and RFC 9110, clause by clause, and what is odd on purpose. */
import { createServer, type Server } from 'node:http';
import { connect } from 'node:net';
import { askDav, findDav, walkDav } from '../../tests/support/dav';
import { davHandler } from './handler';
import { DavRefusal, type DavFolder } from './node';
import { treeOf, type TreeFile } from './tree';

const DAY = new Date('1987-03-14T09:26:52Z');
const BYTES = Buffer.from(Array.from({ length: 1000 }, (_, i) => i % 251));
const NAMES = ['100% of it?', 'a#b&c <d> "e"', "l'été", 'plus+semi;co=lon', 'ünï 文字', '(1)!*'];

const fileOf = (path: string, more: Partial<TreeFile> = {}): TreeFile => ({
  ...{ path, size: BYTES.length, type: 'application/octet-stream', modified: DAY, tag: 'tag1' },
  async *stream(start, end) {
    yield BYTES.subarray(start, Math.min(end, start + 300));
    if (end > start + 300) yield BYTES.subarray(start + 300, end);
  },
  ...more,
});
const refusing = (error: Error) => ({
  async *stream(): AsyncGenerator<Uint8Array> {
    throw error;
  },
});

const files: TreeFile[] = [
  fileOf('a/b/deep.bin'),
  fileOf('empty', { size: 0, async *stream() {} }),
  fileOf('held', refusing(new DavRefusal(403, 'It is held.'))),
  fileOf('broken', refusing(new Error('the disk'))),
  fileOf('short', {
    async *stream(start) {
      yield BYTES.subarray(start, start + 10);
    },
  }),
  ...NAMES.map((name) => fileOf(`names/${name}`)),
];

const errors: unknown[] = [];
let server: Server;
let base: string;
let root: DavFolder;
beforeAll(async () => {
  root = treeOf('', DAY, files);
  server = createServer(
    davHandler({ root: async () => root, onError: (error) => errors.push(error) }),
  );
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  base = `http://127.0.0.1:${(server.address() as { port: number }).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});
beforeEach(() => errors.splice(0));

const DEEP = '/a/b/deep.bin';
const get = (headers: Record<string, string> = {}, path = DEEP) =>
  askDav(base, 'GET', path, { headers });
const find = (body: string | Uint8Array, depth = '0', path = '/') =>
  askDav(base, 'PROPFIND', path, { headers: { depth }, body });

test('every file is found by walking, and comes as it is', async () => {
  const found = await walkDav(base);
  expect([...found.keys()].sort()).toEqual(files.map(({ path }) => path).sort());
  for (const name of NAMES) {
    const { href, size, tag, modified } = found.get(`names/${name}`)!;
    expect(href).toMatch(/^[A-Za-z0-9/%_.~-]*$/);
    expect([size, tag, modified]).toEqual([1000, '&quot;tag1&quot;', DAY.toUTCString()]);
    const { status, body } = await get({}, href);
    expect([status, body.equals(BYTES)]).toEqual([200, true]);
  }
});

test.each([
  ['bytes=0-9', 206, 0, 10],
  ['bytes=290-310', 206, 290, 311],
  ['bytes=990-', 206, 990, 1000],
  ['bytes=-7', 206, 993, 1000],
  ['bytes=5-99999', 206, 5, 1000],
  ['bytes=9-3', 200, 0, 1000],
  ['bytes=0-1,5-6', 200, 0, 1000],
  ['lines=1-2', 200, 0, 1000],
])('the range %s gives %i, bytes %i to %i', async (range, status, from, to) => {
  const reply = await get({ range });
  expect([reply.status, reply.body.equals(BYTES.subarray(from, to))]).toEqual([status, true]);
  const about = status === 206 ? `bytes ${from}-${to - 1}/1000` : undefined;
  expect(reply.headers['content-range']).toBe(about);
});

test.each(['bytes=1000-', 'bytes=-0'])('of %s there is nothing', async (range) => {
  const { status, headers, body } = await get({ range });
  expect([status, headers['content-range'], body.length]).toEqual([416, 'bytes */1000', 0]);
});

test.each([
  [{ 'if-none-match': '"tag1"' }, 304],
  [{ 'if-none-match': '"x", W/"tag1"' }, 304],
  [{ 'if-none-match': '*' }, 304],
  [{ 'if-none-match': '"x"' }, 200],
  [{ 'if-match': '"x"' }, 412],
  [{ 'if-match': '"tag1"' }, 200],
  [{ 'if-modified-since': DAY.toUTCString() }, 304],
  [{ 'if-modified-since': new Date(DAY.getTime() - 1000).toUTCString() }, 200],
  [{ 'if-modified-since': 'yesterday' }, 200],
  [{ range: 'bytes=0-3', 'if-range': '"tag1"' }, 206],
  [{ range: 'bytes=0-3', 'if-range': '"other"' }, 200],
  [{ range: 'bytes=0-3', 'if-range': DAY.toUTCString() }, 206],
])('under %j it is %i', async (headers, status) => {
  const reply = await get(headers as Record<string, string>);
  expect([reply.status, reply.headers.etag]).toEqual([status, '"tag1"']);
});

test('HEAD tells what GET would, and gives nothing', async () => {
  const [head, whole] = [await askDav(base, 'HEAD', DEEP), await get()];
  const told = ({ headers }: typeof head) =>
    ['content-length', 'etag', 'last-modified', 'content-type'].map((name) => headers[name]);
  expect([head.status, head.body.length, told(head)]).toEqual([200, 0, told(whole)]);
});

test('a folder is a page in a browser, with names that mean nothing in it', async () => {
  const { status, headers, body } = await get({}, '/names/');
  expect([status, headers['content-type']]).toEqual([200, 'text/html; charset=utf-8']);
  expect(body.toString()).toContain('a#b&amp;c &lt;d&gt; &quot;e&quot;');
  expect(body.toString()).not.toContain('<d>');
});

test('an answer to a browser runs nothing', async () => {
  const { headers } = await get();
  expect([headers['content-security-policy'], headers['x-content-type-options']]).toEqual([
    "sandbox; default-src 'none'",
    'nosniff',
  ]);
  expect(headers['access-control-allow-origin']).toBeUndefined();
});

test('what may not be read is refused in words; what fails is told, and broken off', async () => {
  const held = await get({}, '/held');
  expect([held.status, held.body.toString()]).toEqual([403, 'It is held.\n']);
  expect(errors).toEqual([]);
  expect((await get({}, '/broken')).status).toBe(500);
  expect(errors).toHaveLength(1);
  await expect(get({}, '/short')).rejects.toThrow();
  expect(errors).toHaveLength(2);
});

test.each(['0', '1'])('a file at depth %s is that file alone', async (depth) => {
  expect(await findDav(base, DEEP, depth)).toMatchObject([{ href: DEEP, isFolder: false }]);
});

test('no depth, and the whole depth, are refused as the standard has it', async () => {
  for (const headers of [{}, { depth: 'infinity' }] as Record<string, string>[]) {
    const { status, body } = await askDav(base, 'PROPFIND', '/', { headers });
    expect([status, body.toString()]).toEqual([
      403,
      expect.stringContaining('<D:propfind-finite-depth/>'),
    ]);
  }
  for (const depth of ['2', '-1', 'x', '1,noroot'])
    expect((await find('', depth)).status).toBe(400);
});

test('properties that are known come with values, others as they were asked for', async () => {
  const { body } = await find(
    '<D:propfind xmlns:D="DAV:" xmlns:x="http://e.org/?a=1&amp;b"><D:prop><D:resourcetype/>' +
      '<x:none/><D:no-such/><bare xmlns=""/></D:prop></D:propfind>',
  );
  const [, has, lacks] = body.toString().split('<D:propstat>');
  expect(has).toContain('<D:resourcetype><D:collection/></D:resourcetype>');
  expect(has).toContain('200 OK');
  expect(lacks).toContain('<x:none xmlns:x="http://e.org/?a=1&amp;b"/>');
  expect(lacks).toContain('<x:no-such xmlns:x="DAV:"/>');
  expect(lacks).toContain('<bare xmlns=""/>');
  expect(lacks).toContain('404 Not Found');
});

test('names alone have no values', async () => {
  const { body } = await find('<propfind xmlns="DAV:"><propname/></propfind>', '0', DEEP);
  expect(body.toString()).toContain('<D:getcontentlength/>');
  expect(body.toString()).not.toContain('1000');
});

const DEEPER = '<a>'.repeat(100) + '</a>'.repeat(100);
test.each([
  ['not closed', '<propfind xmlns="DAV:"><prop>', 400],
  ['no XML', 'hello', 400],
  ['a prefix that nobody declared', '<D:propfind><D:allprop/></D:propfind>', 400],
  ['another root', '<D:other xmlns:D="DAV:"/>', 400],
  ['two roots', '<propfind xmlns="DAV:"><allprop/></propfind><a/>', 400],
  ['nothing in it', '<propfind xmlns="DAV:"/>', 400],
  ['two things at once', '<propfind xmlns="DAV:"><propname/><allprop/></propfind>', 400],
  ['an entity', '<propfind xmlns="DAV:"><prop><a>&none;</a></prop></propfind>', 400],
  ['a document type', '<!DOCTYPE z><propfind xmlns="DAV:"><allprop/></propfind>', 400],
  ['very deep', `<propfind xmlns="DAV:"><prop>${DEEPER}</prop></propfind>`, 400],
  ['very many names', `<propfind xmlns="DAV:"><prop>${'<a/>'.repeat(501)}</prop></propfind>`, 400],
  ['bytes that are no text', Uint8Array.of(0x3c, 0xff, 0xfe), 400],
  ['very long', `<!--${'x'.repeat(70_000)}--><propfind xmlns="DAV:"><allprop/></propfind>`, 413],
  ['nothing at all', '', 207],
  ['all of it', '<propfind xmlns="DAV:"><allprop/></propfind>', 207],
])('a body that is %s', async (_, body, status) => {
  expect((await find(body)).status).toBe(status);
  expect(errors).toEqual([]);
});

test.each(
  [
    'PUT',
    'POST',
    'DELETE',
    'MKCOL',
    'COPY',
    'MOVE',
    'PROPPATCH',
    'LOCK',
    'UNLOCK',
    'PATCH',
  ].flatMap((method) => [
    [method, DEEP],
    [method, '/new'],
  ]),
)('%s at %s is refused', async (method, path) => {
  const { status, headers } = await askDav(base, method!, path!, { body: 'x'.repeat(300_000) });
  expect([status, headers.allow]).toEqual([405, 'OPTIONS, GET, HEAD, PROPFIND']);
});

test('what it can do it says', async () => {
  const { status, headers } = await askDav(base, 'OPTIONS', '/');
  expect([status, headers.dav, headers.allow]).toEqual([200, '1', 'OPTIONS, GET, HEAD, PROPFIND']);
});

test.each([
  ['/none', 404],
  ['/a/b/deep.bin/below', 404],
  ['/a/b/deep.bin/', 404],
  ['/a/b', 200],
  ['//', 404],
  ['/a//b', 404],
  ['/../etc/passwd', 400],
  ['/%2e%2e/etc/passwd', 400],
  ['/..%2fetc%2fpasswd', 400],
  ['/a%00b', 400],
  ['/%ff%fe', 400],
  ['/a%2', 400],
  ['/constructor', 404],
  ['/__proto__', 404],
  [`/${'d/'.repeat(1000)}`, 404],
])('at %s it is %i', async (path, status) => {
  expect((await get({}, path)).status).toBe(status);
});

test.each([
  ['evil.example', 421],
  ['127.0.0.1.evil.example:80', 421],
  ['localhost:99', 200],
  ['[::1]:80', 200],
])('by the name %s it answers %i', async (host, status) => {
  expect((await get({ host })).status).toBe(status);
});

test.each([
  ['cross-site', 'no-cors', 403],
  ['cross-site', 'navigate', 200],
  ['same-site', 'no-cors', 200],
])('what a browser asks for %s to %s is answered %i', async (site, mode, status) => {
  const headers = { 'sec-fetch-site': site, 'sec-fetch-mode': mode };
  expect((await get(headers)).status).toBe(status);
});

test('who goes away in the middle is nobody’s fault', async () => {
  const big = treeOf('', DAY, [
    fileOf('big', {
      size: 64 << 20,
      async *stream() {
        for (let i = 0; i < 64; i++) yield new Uint8Array(1 << 20);
      },
    }),
  ]);
  const before = root;
  root = big;
  const socket = connect(Number(new URL(base).port), '127.0.0.1');
  socket.write('GET /big HTTP/1.1\r\nHost: localhost\r\n\r\n');
  await new Promise((resolve) => socket.once('data', resolve));
  socket.destroy();
  root = before;
  expect((await get()).status).toBe(200);
  expect(errors).toEqual([]);
});
