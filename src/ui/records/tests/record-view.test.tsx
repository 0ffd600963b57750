/** @jest-environment jsdom */
/** The page of a lot or of a set: what is registered, and its media with where they lead. */
import { screen, waitFor } from '@testing-library/react';
import { answerWith, renderWithQueries } from '../../../../tests/support/render';
import { RecordView } from '../record-view';

jest.mock('next/navigation', () => ({ useRouter: () => ({ replace: jest.fn() }) }));
jest.mock('../../media/outbox', () => ({
  OUTBOX_EVENT: 'outbox-of-the-test',
  outgoing: async () => [],
  ofLot: ({ name }: { name: string }) => `lot ${name}`,
  sharedBy: ({ name }: { name: string }) => `set ${name}`,
}));

const SAID = {
  own: { elements: {}, acquisition: null },
  elements: [],
  acquisition: null,
  agreements: [],
};
const MEDIUM = { code: 'A/1', form: '3.5', title: 'Rota', setNumber: 2, lender: '', isRead: true };
const common = {
  ...{ name: 'Box', description: SAID, papers: [] },
  rights: { own: null, statement: null, holds: [] },
  stays: 0,
};
const LOT = {
  ...common,
  kind: 'lots',
  lot: {
    ...{ name: 'Box', lender: 'The keeper', cameIn: '', handBackBy: '2026-12-01' },
    ...{ revolutions: 1, tries: 5, sweep: 'outward', gentle: true },
  },
  media: { all: 501, read: 1, rows: [MEDIUM] },
};
const terms = () =>
  [...document.querySelector('dl')!.querySelectorAll('dt')].map((term) => [
    term.textContent,
    term.nextElementSibling!.textContent,
  ]);

async function show(kind: 'lots' | 'sets', record: object) {
  answerWith({ [`/api/records/${kind}/Box`]: record });
  renderWithQueries(<RecordView kind={kind} name="Box" />);
  await waitFor(() => expect(screen.getByTestId('description')).toBeTruthy());
}

test('a lot tells whose it is and how it is read; more media than are listed are told', async () => {
  await show('lots', LOT);
  expect(terms()).toEqual([
    ['lender', 'The keeper'],
    ['came in', 'not known'],
    ['to be handed back by', '2026-12-01'],
    ['how it is read', '1 turn first, at most 5 readings, innermost to outermost, gently'],
  ]);
  expect(screen.getByRole('link', { name: 'A/1' }).getAttribute('href')).toBe('/media/A%2F1');
  expect(document.body.textContent).toContain('The first 1 of 501');
});

test('a set tells which places are missing, and the place of each medium', async () => {
  const missing = Array.from({ length: 50 }, (_, i) => i + 3);
  const media = { all: 1, read: 1, rows: [MEDIUM] };
  await show('sets', { ...common, kind: 'sets', members: 52, missing, media });
  expect(terms()[0]).toEqual(['should have', '52 media']);
  expect(terms()[1]![1]).toMatch(/^3, 4, .*, 42 …$/);
  expect(screen.getAllByRole('cell').map((cell) => cell.textContent)).toEqual([
    ...['A/1', '2', 'Rota', '3½-inch', 'read'],
  ]);
});

test('one that no medium belongs to says so', async () => {
  await show('lots', { ...LOT, media: { all: 0, read: 0, rows: [] } });
  expect(screen.queryByRole('table')).toBeNull();
});
