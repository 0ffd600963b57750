/** @jest-environment jsdom */
/** The ledger: narrowed by words, each of which must stand in the entry, its name or its code. */
import { fireEvent, screen } from '@testing-library/react';
import { answerWith, renderWithQueries } from '../../../tests/support/render';
import { LedgerView } from './ledger-view';

const entry = (id: number, who: string, code: string | null, what: string) => ({
  id,
  at: '2026-11-28T10:00:00.000Z',
  who,
  code,
  stationId: code ? 2 : null,
  what,
});
const ENTRIES = [
  entry(3, 'Ada', 'TST-0002', 'Read whole.'),
  entry(2, 'Bo', 'TST-0001', 'Registered.'),
  entry(1, 'Ada', null, 'A rule was taken in.'),
];
const show = () => {
  answerWith({ '/api/ledger': ENTRIES });
  return renderWithQueries(<LedgerView />);
};
const rows = () =>
  [...document.querySelectorAll('tbody tr')].map((row) => row.lastElementChild!.textContent);
const narrow = (text: string) =>
  fireEvent.change(screen.getByRole('textbox'), { target: { value: text } });

test('entries stand in the order given, each with its medium where it has one', async () => {
  show();
  await screen.findByText('Read whole.');
  expect(rows()).toEqual(['Read whole.', 'Registered.', 'A rule was taken in.']);
  expect(
    screen.getAllByRole('link', { name: /^TST-/ }).map((link) => link.getAttribute('href')),
  ).toEqual(['/media/TST-0002', '/media/TST-0001']);
});

test.each([
  ['ada', ['Read whole.', 'A rule was taken in.']],
  ['TST-0001', ['Registered.']],
  ['ada  WHOLE', ['Read whole.']],
  ['bo whole', []],
  ['   ', ['Read whole.', 'Registered.', 'A rule was taken in.']],
])('narrowed by "%s" it has %j', async (text, left) => {
  show();
  await screen.findByText('Read whole.');
  narrow(text);
  expect(rows()).toEqual(left);
});

test('the heading counts what answers, and all of it is handed out in two kinds', async () => {
  show();
  await screen.findByText('Read whole.');
  narrow('ada');
  expect(screen.getByRole('heading', { level: 1 }).textContent).toMatch(/2.*3/);
  expect(
    screen
      .getAllByRole('link')
      .map((link) => link.getAttribute('href'))
      .filter((href) => href!.startsWith('/api')),
  ).toEqual(['/api/ledger/export', '/api/ledger/export?as=json']);
});
