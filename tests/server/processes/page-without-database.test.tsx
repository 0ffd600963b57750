/** A page whose answers the database did not give says so, and never that there is nothing. */
import { once } from 'node:events';
import { createServer, type AddressInfo } from 'node:net';
import type { ReactNode } from 'react';
import { renderToStaticMarkup } from 'react-dom/server';
import { PrefetchBoundary } from '@/app/prefetch-boundary';
import { WithDocket } from '@/app/media/[code]/with-docket';
import { connectDatabase, type Connection } from '@/server/platform/db/database';
import { ServerState } from '@/ui/data/server-state';
import { stationsQuery } from '@/ui/data/queries';
import { freePort } from '../../support/application';
import { serverSuite } from '../../support/server-suite';

jest.mock('next/navigation', () => ({
  ...jest.requireActual<object>('next/navigation'),
  useRouter: () => ({ refresh: () => undefined }),
}));

const suite = serverSuite({});
const shared = globalThis as { spindleConnection?: Connection };
const children = <h1>Nothing is kept yet</h1>;
const inside = { key: ['holdings'], fetch: async () => ({ total: 3 }) };

beforeEach(() => {
  shared.spindleConnection = suite.connection;
});
afterAll(() => {
  delete shared.spindleConnection;
});

function connectTo(port: number): Connection {
  const url = `postgres://nobody@127.0.0.1:${port}/none`;
  return (shared.spindleConnection = connectDatabase(url, { connectingSeconds: 0.2 }));
}

interface Boundary {
  props: Parameters<typeof ServerState>[0] & { children: ReactNode };
}
const boundary = async (props: Partial<Parameters<typeof PrefetchBoundary>[0]>) =>
  ((await PrefetchBoundary({ answers: [inside], children, ...props })) as unknown as Boundary)
    .props;
const shown = (node: ReactNode) => renderToStaticMarkup(<>{node}</>);

test('a page with its answers', async () => {
  const { children: given, state } = await boundary({});
  expect(given).toBe(children);
  expect(state?.queries.map(({ queryKey }) => queryKey)).toEqual([
    inside.key,
    stationsQuery.queryKey,
  ]);
});

test('where the database is away, a page waits, and the frame around it stays', async () => {
  const { pool } = connectTo(await freePort());
  expect(shown((await boundary({})).children)).toContain('data-testid="store-away"');
  expect((await boundary({ isFrame: true })).children).toBe(children);
  await pool.end();
});

test('where the database takes no connection in time, a page waits', async () => {
  const silent = createServer().listen(0, '127.0.0.1');
  await once(silent, 'listening');
  const { pool } = connectTo((silent.address() as AddressInfo).port);
  expect(shown((await boundary({})).children)).toContain('data-testid="store-away"');
  await pool.end();
  silent.close();
});

test('anything else that is wrong is an error', async () => {
  const wrong = { key: ['wrong'], fetch: () => Promise.reject(new Error('else')) };
  await expect(boundary({ answers: [wrong] })).rejects.toThrow('else');
});

test('a medium that there is none of is not found, and not away', async () => {
  const { answers } = (WithDocket({ code: 'SKP-9999', children }) as unknown as Boundary)
    .props as unknown as Parameters<typeof PrefetchBoundary>[0];
  await expect(boundary({ answers })).rejects.toMatchObject({
    digest: 'NEXT_HTTP_ERROR_FALLBACK;404',
  });
});
