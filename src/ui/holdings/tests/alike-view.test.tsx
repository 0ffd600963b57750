/** @jest-environment jsdom */
/** What is alike: the same image twice, disks but for a few tracks, disks that share files. */
import { screen, within } from '@testing-library/react';
import { answerWith, renderWithQueries } from '../../../../tests/support/render';
import { AlikeView } from '../alike-view';

const medium = (code: string, copyOf: string | null = null) => ({
  code,
  title: `Box ${code}`,
  copyOf,
});
const NOTHING = { images: [], nearly: [], pairs: [] };
const show = (over: Partial<Record<keyof typeof NOTHING, unknown[]>>) => {
  answerWith({ '/api/alike': { ...NOTHING, ...over } });
  renderWithQueries(<AlikeView />);
};
const linksIn = (element: HTMLElement) =>
  within(element)
    .getAllByRole('link')
    .map((link) => link.getAttribute('href'));

test('where nothing is alike, that is the heading, and there is no table', async () => {
  show({});
  await screen.findByRole('heading', { level: 1, name: /nothing/i });
  expect([screen.queryByTestId('nearly'), screen.queryByTestId('alike')]).toEqual([null, null]);
  expect(screen.queryByRole('listitem')).toBeNull();
});

test('an image that is held three times leads to each, and each beside the first', async () => {
  const media = [medium('TST-0001'), medium('TST-0002', 'TST-0001'), medium('TST-0003')];
  show({ images: [{ sha256: 'ab12cd34ef56ab12', bytes: 737_280, media }] });
  const item = await screen.findByRole('listitem');
  expect(linksIn(item)).toEqual([
    '/media/TST-0001',
    '/media/TST-0002',
    '/media/TST-0003',
    '/holdings/alike/TST-0001/TST-0002',
    '/holdings/alike/TST-0001/TST-0003',
  ]);
  expect(item.textContent).toContain('ab12cd34ef56');
  // One of them was made from the first, and says so.
  expect(item.querySelectorAll('b')).toHaveLength(1);
});

test('disks but for a few tracks, with how many are the same', async () => {
  const pair = { a: 'TST-0004', b: 'TST-0005', aTitle: 'One', bTitle: 'Two', same: 158, of: 160 };
  show({ nearly: [pair] });
  const table = await screen.findByTestId('nearly');
  expect(table.textContent).toMatch(/158.*160/);
  expect(linksIn(table).at(-1)).toBe('/holdings/alike/TST-0004/TST-0005');
  expect(screen.queryByTestId('alike')).toBeNull();
});

test('disks that share files, with how many of each and some of them by name', async () => {
  const examples = ['FOGLOG/A.TXT', 'TIDES.CSV'];
  const pair = { a: 'TST-0006', b: 'TST-0007', aTitle: 'One', bTitle: 'Two', examples };
  show({ pairs: [{ ...pair, shared: 12, ofA: 14, ofB: 40 }] });
  const table = await screen.findByTestId('alike');
  expect(table.textContent).toMatch(/12.*14.*40/);
  expect(within(table).getByTitle('FOGLOG/A.TXT, TIDES.CSV').textContent).toBe(
    'FOGLOG/A.TXT, TIDES.CSV',
  );
});

test('the heading counts all that there is', async () => {
  const pair = { a: 'TST-0006', b: 'TST-0007', aTitle: '', bTitle: '' };
  show({
    images: [{ sha256: 'ab', bytes: 1, media: [medium('TST-0001'), medium('TST-0002')] }],
    pairs: [{ ...pair, shared: 1, ofA: 1, ofB: 1, examples: [] }],
    nearly: [{ ...pair, same: 1, of: 2 }],
  });
  const heading = await screen.findByRole('heading', { level: 1, name: /;/ });
  expect(heading.textContent!.split(';')).toHaveLength(3);
});
