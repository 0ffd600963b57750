/** @jest-environment jsdom */
/** What the page on checks says of a store: sound, damaged, empty; and that a check is asked for. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import { FixityView } from './fixity-view';

jest.mock('./room', () => ({ Room: () => null }));

const store = {
  blobs: 18,
  bytes: 1_352_300,
  due: 0,
  never: 2,
  oldest: '2026-11-02T09:30:00.000Z',
  everyDays: 90,
  damaged: [] as object[],
  ledger: null as object | null,
  second: null as object | null,
};
const seals = { at: '2026-11-20T09:30:00.000Z', entries: 3120, digest: '5ea1', broken: null };
const figures = () =>
  [...screen.getByTestId('fixity').querySelectorAll('dd')].map(({ textContent }) => textContent);

test('a sound store says so, how much it is, and what was not looked at yet', async () => {
  serve({ get: store });
  renderWithQueries(<FixityView />);
  expect((await screen.findByRole('heading', { level: 1 })).textContent).toBe(
    'All 18 stored objects are sound',
  );
  expect(figures()[0]).toBe('1\u2009352\u2009300 bytes');
  expect(figures()[2]).toBe('2');
  expect(screen.queryByRole('table')).toBeNull();
});

test('what is damaged leads to its medium, with what hangs on it', async () => {
  const damaged = [
    {
      id: 'a',
      damagedAt: '2026-11-20T10:00:00.000Z',
      offset: 262_144,
      what: 'the stored image of TST-0003',
      code: 'TST-0003',
      files: 12,
    },
    {
      id: 'b',
      damagedAt: '2026-11-20T10:01:00.000Z',
      offset: 0,
      what: 'the ZIP of extract 4',
      code: null,
      files: null,
    },
  ];
  serve({ get: { ...store, damaged } });
  renderWithQueries(<FixityView />);
  expect((await screen.findByRole('heading', { level: 1 })).textContent).toBe(
    '2 of 18 stored objects are damaged',
  );
  expect(screen.getByRole('link').getAttribute('href')).toBe('/media/TST-0003');
  const cells = screen.getAllByRole('cell').map(({ textContent }) => textContent);
  expect([cells[0], cells[1], cells[2]]).toEqual([
    'the stored image of TST-0003',
    '262\u2009144',
    '12',
  ]);
  expect([cells[4], cells[5], cells[6]]).toEqual(['the ZIP of extract 4', '0', '']);
});

test('everything is asked to be checked with one press; an empty store has nothing to check', async () => {
  const asked = serve({ get: store });
  const { unmount } = renderWithQueries(<FixityView />);
  fireEvent.click(await screen.findByRole('button'));
  await waitFor(() => expect(changesIn(asked)).toEqual([{ path: '/api/fixity', body: {} }]));
  unmount();
  serve({ get: { ...store, blobs: 0, bytes: 0 } });
  renderWithQueries(<FixityView />);
  expect((await screen.findByRole('button')).hasAttribute('disabled')).toBe(true);
});

test.each([
  ['not looked at yet', null, undefined],
  ['3\u2009120 entries whole', seals, 'false'],
  ['changed in 501 to 1\u2009000', { ...seals, broken: { from: 501, through: 1000 } }, 'true'],
])('of the ledger: %s', async (words, ledger, isBroken) => {
  serve({ get: { ...store, ledger } });
  renderWithQueries(<FixityView />);
  await screen.findByRole('heading', { level: 1 });
  expect(figures()[4]).toBe(words);
  expect(screen.queryByTestId('seals')?.dataset.broken).toBe(isBroken);
});

const second = {
  ...{ folder: '/mnt/second/ocfl', state: 'reached', objects: 17, media: 18, behind: 1 },
  ...{ bytes: 5_000, written: '2026-11-20T09:30:00.000Z', oldest: '2026-11-01T09:30:00.000Z' },
  troubles: [] as object[],
};
const toldOfSecond = async (state: object | null) => {
  serve({ get: { ...store, second: state } });
  renderWithQueries(<FixityView />);
  return screen.findByTestId('second-store');
};

test('without a second store, how one is set up is told', async () => {
  expect((await toldOfSecond(null)).textContent).toContain('SPINDLE_SECOND_STORE');
});

test('a second store says where it lies, and how much of the house is in it', async () => {
  const told = await toldOfSecond(second);
  expect(told.textContent).toContain('/mnt/second/ocfl');
  const all = [...told.querySelectorAll('dd')].map(({ textContent }) => textContent);
  expect(all.slice(0, 2)).toEqual(['17 of 18', '1']);
  expect(screen.queryByRole('alert')).toBeNull();
});

test('one that is away says so; what is wrong in it leads to its medium', async () => {
  const troubles = [{ id: 'a', code: 'TST-0003', trouble: 'A file is damaged.' }];
  const told = await toldOfSecond({ ...second, state: 'away', troubles });
  expect(screen.getByRole('alert').textContent).toContain('/mnt/second/ocfl');
  expect(told.querySelector('a')?.getAttribute('href')).toBe('/media/TST-0003');
  expect(told.textContent).toContain('A file is damaged.');
});
