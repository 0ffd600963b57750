/** @jest-environment jsdom */
/** Lots and sets listed: how far each is read, where each leads, and what answers to words. */
import { say } from '@/messages';
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { answerWith, renderWithQueries } from '../../../../tests/support/render';
import { RecordsView } from '../records-view';

const LOT = { name: 'Box 7/b', lender: 'The keeper', cameIn: '2026-03-04', handBackBy: '' };
const ALL = {
  lots: [
    { ...LOT, all: 4, read: 1 },
    { ...LOT, name: 'Empty box', all: 0, read: 0 },
  ],
  sets: [{ name: 'Fog logs', members: null, all: 2, read: 2 }],
  isAll: true,
};
const NONE = { lots: [], sets: [], isAll: true };
const links = () =>
  screen.getAllByRole('link').map((link) => [link.textContent, link.getAttribute('href')]);

test('each leads to its page, and is as far as its media are read', async () => {
  answerWith({ '/api/records?': ALL });
  renderWithQueries(<RecordsView />);
  await waitFor(() => expect(screen.getAllByRole('table')).toHaveLength(2));
  expect(links().slice(1)).toEqual([
    [say.receipts.handBacks, '/hand-backs'],
    ['Box 7/b', '/lots/Box%207%2Fb'],
    ['Empty box', '/lots/Empty%20box'],
    ['Fog logs', '/sets/Fog%20logs'],
  ]);
  const shares = screen.getAllByRole('progressbar').map((bar) => bar.getAttribute('aria-valuenow'));
  expect(shares).toEqual(['25', '0', '100']);
});

test('words are asked for, and where nothing answers that is said', async () => {
  const asked = answerWith({ '/api/records?': ALL, '/api/records?q=zinc': NONE });
  renderWithQueries(<RecordsView />);
  fireEvent.change(screen.getByRole('searchbox'), { target: { value: 'zinc' } });
  await waitFor(() => expect(screen.queryByRole('table')).toBeNull());
  expect(asked.at(-1)).toBe('/api/records?q=zinc');
});

test('where more are there than are listed that is said', async () => {
  answerWith({ '/api/records?': { ...ALL, sets: [], isAll: false } });
  renderWithQueries(<RecordsView />);
  await waitFor(() => expect(screen.getAllByRole('table')).toHaveLength(1));
  expect(document.body.textContent).toContain('There are more');
});
