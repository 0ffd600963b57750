/** @jest-environment jsdom */
/** The ledger: asked with what was chosen, turned page by page, saved as it is narrowed. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { say } from '@/messages';
import { LEDGER_KINDS } from '@/server/states';
import { answerLate, renderWithQueries, serve } from '../../../tests/support/render';
import type { Ledger } from '../data/queries';
import { LEDGER_GROUPS } from './ledger-groups';
import { LedgerView } from './ledger-view';

const entry = (id: number, who: string, code: string | null, what: string) => ({
  ...{ id, at: '2026-11-28T10:00:00.000Z', kind: 'registered' as const, who, code, what },
  ...{ stationId: code ? 2 : null, sittingId: null },
});
const PAGE: Ledger = {
  entries: [entry(9, 'Ada', 'TST-0002', 'Read whole.'), entry(8, 'Bo', null, 'A rule.')],
  ...{ count: 431, isCounted: true, olderThan: 8, names: ['Ada', 'Bo'] },
};
const LAST: Ledger = { ...PAGE, entries: [entry(1, 'Bo', null, 'The first.')], olderThan: null };

const show = (asked = {}) => {
  const sent = serve({ get: (path: string) => (path.includes('before=8') ? LAST : PAGE) });
  renderWithQueries(<LedgerView asked={asked} />);
  return () => sent.map(({ path }) => path);
};
const rows = () =>
  [...document.querySelectorAll('tbody tr')].map((row) => row.lastElementChild!.textContent);
const choose = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
const saved = () =>
  screen
    .getAllByRole('link')
    .map((link) => link.getAttribute('href')!)
    .filter((href) => href.startsWith('/api'));

test('entries stand as they came, each with its medium where it has one', async () => {
  show();
  await screen.findByText('Read whole.');
  expect(rows()).toEqual(['Read whole.', 'A rule.']);
  const links = screen.getAllByRole('link', { name: /^TST-/ });
  expect(links.map((link) => link.getAttribute('href'))).toEqual(['/media/TST-0002']);
  expect(screen.getByRole('heading', { level: 1 }).textContent).toBe(say.ledger.entries(PAGE));
});

test.each([
  [say.ledger.filter, 'fog', 'q=fog'],
  [say.ledger.what, 'withdrawn', 'kind=withdrawn'],
  [say.ledger.who, 'Bo', 'who=Bo'],
  [say.ledger.who, '-', 'who=-'],
  [say.ledger.from, '2026-11-01', 'from=2026-11-01'],
  [say.ledger.to, '2026-11-30', 'to=2026-11-30'],
])('narrowed by %s to %s it is asked and saved so', async (label, value, query) => {
  const sent = show();
  await screen.findByText('Read whole.');
  choose(label, value);
  await waitFor(() => expect(sent().at(-1)).toBe(`/api/ledger?${query}`));
  await waitFor(() =>
    expect(saved()).toEqual(
      ['csv', 'json', 'premis', 'prov'].map((as) => `/api/ledger/export?${query}&as=${as}`),
    ),
  );
  fireEvent.click(screen.getByRole('button', { name: say.ledger.clear }));
  await waitFor(() => expect(saved()[0]).toBe('/api/ledger/export?as=csv'));
});

test('page by page to the first, and from the newest again when it is asked anew', async () => {
  const sent = show();
  await screen.findByText('Read whole.');
  fireEvent.click(screen.getByRole('button', { name: say.ledger.older }));
  await screen.findByText('The first.');
  expect(screen.queryByRole('button', { name: say.ledger.older })).toBeNull();
  expect(screen.getByRole('button', { name: say.ledger.newest })).toBeTruthy();
  // What is saved is all of it.
  expect(saved()[0]).toBe('/api/ledger/export?as=csv');
  choose(say.ledger.filter, 'rule');
  await waitFor(() => expect(sent().at(-1)).toBe('/api/ledger?q=rule'));
});

test('of a medium it says whose it is', async () => {
  const sent = show({ medium: 'TST-0002' });
  await screen.findByText('Read whole.');
  expect(sent()).toEqual(['/api/ledger?medium=TST-0002']);
  expect(screen.getByText(say.ledger.ofMedium({ code: 'TST-0002' }))).toBeTruthy();
});

test('what nothing answers to is said, and not before it is known', async () => {
  const answer = answerLate(() => ({ ...PAGE, entries: [], count: 0, olderThan: null }));
  renderWithQueries(<LedgerView />);
  expect(screen.queryByText(say.ledger.noEntryAnswersTo)).toBeNull();
  await answer();
  expect(await screen.findByText(say.ledger.noEntryAnswersTo)).toBeTruthy();
});

test('every kind of entry can be chosen, in one group', () => {
  const grouped = Object.values(LEDGER_GROUPS).flat();
  expect([...grouped].sort()).toEqual([...LEDGER_KINDS].sort());
});
