/** @jest-environment jsdom */
/** Where an image may be written: only to blanks, only where nothing stops it, never by a key. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { mediumIn, station } from '../../../tests/support/stations';
import type { Station } from '../data/queries';
import { WritebackPanel } from './writeback-panel';

const push = jest.fn();
const mockRouter = { push };
jest.mock('next/navigation', () => ({ useRouter: () => mockRouter }));

const blank = (id: number, code: string, more: Partial<Station> = {}) =>
  station({ id, medium: mediumIn({ code, isBlank: true }), ...more });
const finding = (weight: string) => ({ weight, sentence: { code: 'assembly.theDriveHasTwice' } });
const answers =
  (stations: Station[], findings: object[] = []) =>
  (path: string) =>
    path.startsWith('/api/stations') ? stations : { findings };
const show = (hasFlux = false) =>
  renderWithQueries(<WritebackPanel image={{ copyId: 12, code: 'TST-0001', hasFlux }} />);
const button = (name: RegExp) => screen.getByRole<HTMLButtonElement>('button', { name });

beforeEach(() => push.mockReset());

test('only blanks in drives that write are offered', async () => {
  serve({
    get: answers([
      blank(2, 'BLK-0001'),
      station({ id: 3, medium: mediumIn({ code: 'TST-0009' }) }),
      station({ id: 4 }),
      blank(5, 'BLK-0002', {
        abilities: { delivers: 'flux', writes: false } as unknown as Station['abilities'],
      }),
    ]),
  });
  show();
  await screen.findByTestId('blank-BLK-0001');
  expect(document.querySelectorAll('[data-testid^="blank-"]')).toHaveLength(1);
});

test('the button names its target, and what is wanted goes with it', async () => {
  const asked = serve({ get: answers([blank(2, 'BLK-0001')], [finding('beware')]) });
  show();
  await screen.findByTestId('blank-BLK-0001');
  fireEvent.change(screen.getByRole('spinbutton'), { target: { value: '3' } });
  fireEvent.click(screen.getByRole('checkbox'));
  await waitFor(() => expect(button(/BLK-0001/).disabled).toBe(false));
  fireEvent.click(button(/BLK-0001/));
  await waitFor(() => expect(push.mock.calls).toEqual([['/write-back']]));
  expect(changesIn(asked)).toEqual([
    {
      path: '/api/writebacks',
      body: {
        fairCopyId: 12,
        stationId: 2,
        from: 'image',
        machine: null,
        count: 3,
        precompensate: false,
      },
    },
  ]);
});

test('what stops it is said, and nothing can be pressed', async () => {
  const asked = serve({ get: answers([blank(2, 'BLK-0001')], [finding('stops')]) });
  show();
  await screen.findByTestId('blank-BLK-0001');
  await waitFor(() => expect(asked.some(({ path }) => path.includes('check'))).toBe(true));
  await waitFor(() =>
    expect(screen.getByTestId('blank-BLK-0001').querySelectorAll('p')).toHaveLength(1),
  );
  expect(button(/BLK-0001/).disabled).toBe(true);
});

test('before it was looked at nothing can be pressed either', async () => {
  globalThis.fetch = (async (path: string) =>
    path.startsWith('/api/stations')
      ? { ok: true, status: 200, json: async () => [blank(2, 'BLK-0001')] }
      : new Promise(() => undefined)) as unknown as typeof fetch;
  show();
  await screen.findByTestId('blank-BLK-0001');
  expect(button(/BLK-0001/).disabled).toBe(true);
});

test('no key starts a write', async () => {
  const asked = serve({ get: answers([blank(2, 'BLK-0001')]) });
  show(true);
  await screen.findByTestId('blank-BLK-0001');
  await waitFor(() => expect(button(/BLK-0001 in station/).disabled).toBe(false));
  for (const key of [...'abcdefghijklmnopqrstuvwxyz', 'Enter', ' '])
    fireEvent.keyDown(window, { key });
  expect(changesIn(asked)).toEqual([]);
});

test('the flux goes back as it is where there is some', async () => {
  const asked = serve({ get: answers([blank(2, 'BLK-0001')]) });
  show(true);
  await screen.findByTestId('blank-BLK-0001');
  fireEvent.click(screen.getAllByRole('button')[1]!);
  await waitFor(() =>
    expect(changesIn(asked)).toMatchObject([{ path: '/api/writebacks', body: { from: 'flux' } }]),
  );
});

test('a station that writes already takes it into its queue', async () => {
  const writeback = { id: 1, state: 'writing', now: '' } as unknown as Station['writeback'];
  const asked = serve({ get: answers([blank(2, 'BLK-0001', { writeback })]) });
  show();
  fireEvent.click(await screen.findByRole('button', { name: /TST-0001/ }));
  await waitFor(() =>
    expect(changesIn(asked)).toMatchObject([
      { path: '/api/writebacks/queue', body: { stationId: 2 } },
    ]),
  );
});

test.each([
  ['0', '1'],
  ['-4', '1'],
  ['1000', '100'],
  ['', '1'],
  ['7', '7'],
])('%s disks are %s', async (typed, kept) => {
  serve({ get: answers([]) });
  show();
  const count = screen.getByRole<HTMLInputElement>('spinbutton');
  fireEvent.change(count, { target: { value: typed } });
  expect(count.value).toBe(kept);
});
