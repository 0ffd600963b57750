/** @jest-environment jsdom */
/** Two media side by side: what differs first, and what they are to one another settled by keys. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, refuseAll, renderWithQueries, serve } from '../../../tests/support/render';
import type { SideBySide } from '../data/queries';
import { SideBySideView } from './side-by-side-view';

const side = (code: string, sha256: string) => ({
  code,
  title: `Title of ${code}`,
  labelText: '',
  lender: '',
  condition: '',
  layout: 'mfm-35-9x512',
  tally: { firm: 1438, mended: 0, doubtful: 1, lost: 1, unread: 0 },
  files: 3,
  imageSha256: sha256.repeat(64),
  imageBytes: 737_280,
  registeredAt: '2026-11-28T10:00:00.000Z',
  sourceName: null,
});
const file = (id: number, path: string) => ({
  id,
  path,
  bytes: 100 * id,
  modified: null,
  inDoubt: 0,
});
const PAIR = {
  first: side('TST-0001', 'a'),
  second: side('TST-0002', 'b'),
  tracks: { same: 150, of: 160 },
  tally: { same: 1, renamed: 1, differs: 1, 'first-only': 1, 'second-only': 0 },
  files: [
    { likeness: 'same', first: file(1, 'SAME.TXT'), second: file(11, 'SAME.TXT') },
    { likeness: 'renamed', first: file(2, 'OLD.TXT'), second: file(12, 'NEW.TXT') },
    { likeness: 'differs', first: file(3, 'DUES.TXT'), second: file(13, 'DUES.TXT') },
    { likeness: 'first-only', first: file(4, 'GONE.TXT'), second: null },
  ],
  more: 0,
  settled: null,
} as unknown as SideBySide;

const show = () => renderWithQueries(<SideBySideView a="TST-0001" b="TST-0002" />);
const paths = () =>
  [...screen.getByTestId('pairs').querySelectorAll('tbody tr')].map(
    (row) => row.firstChild!.textContent,
  );

test('what differs is listed; what is the same only when it is asked for', async () => {
  serve({ get: PAIR });
  show();
  await screen.findByTestId('pairs');
  expect(paths()).toEqual(['OLD.TXT', 'DUES.TXT', 'GONE.TXT']);
  fireEvent.click(screen.getByRole('button', { pressed: false }));
  expect(paths()).toEqual(['SAME.TXT', 'OLD.TXT', 'DUES.TXT', 'GONE.TXT']);
  expect(screen.getByRole('heading', { level: 1 }).textContent).toMatch(/150.*160.*2.*2/);
});

test.each([
  ['f', { of: 'TST-0001', to: 'TST-0002', kind: 'copy-of' }],
  ['s', { of: 'TST-0002', to: 'TST-0001', kind: 'copy-of' }],
  ['n', { of: 'TST-0001', to: 'TST-0002', kind: 'not-the-same' }],
])('%s settles it as %j', async (key, body) => {
  const sent = serve({ get: PAIR });
  show();
  await screen.findByTestId('settle');
  fireEvent.keyDown(window, { key });
  await waitFor(() => expect(changesIn(sent)).toEqual([{ path: '/api/relations', body }]));
});

test('what is settled is said, and can be taken back', async () => {
  const sent = serve({
    get: { ...PAIR, settled: { kind: 'copy-of', of: 'TST-0002', to: 'TST-0001' } },
  });
  show();
  const settled = await screen.findByTestId('settle');
  expect(settled.textContent).toMatch(/TST-0002.*TST-0001/);
  fireEvent.keyDown(window, { key: 'f' });
  fireEvent.click(screen.getByRole('button', { name: 'Take it back' }));
  await waitFor(() =>
    expect(changesIn(sent)).toEqual([
      { path: '/api/relations', body: { of: 'TST-0001', to: 'TST-0002', kind: null } },
    ]),
  );
});

test('one image twice is said so, and there is nothing to go through sector by sector', async () => {
  serve({ get: { ...PAIR, second: side('TST-0002', 'a'), files: PAIR.files.slice(0, 1) } });
  show();
  await screen.findByTestId('settle');
  expect(screen.queryByTestId('pairs')).toBeNull();
  expect(screen.queryAllByRole('link').map((link) => link.getAttribute('href'))).not.toContain(
    '/media/TST-0001#surface',
  );
});

test('what can’t be laid side by side is said by the server', async () => {
  refuseAll('There is no TST-0002.', 404);
  show();
  expect((await screen.findByRole('alert')).textContent).toBe('There is no TST-0002.');
});
