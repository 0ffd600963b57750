/** @jest-environment jsdom */
/** A lot changed: what it is now stands in the form, what was changed is sent, what can't be is told. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../../tests/support/render';
import { LotDialog, type Lot } from '../lot-dialog';

const LOT = {
  name: 'lot 7 / attic',
  lender: 'harbour school',
  cameIn: '2026-03-04',
  handBackBy: '2026-12-01',
  revolutions: 3,
  tries: 8,
  sweep: 'inward',
  gentle: false,
} as unknown as Lot;

function open(lot: Lot | null = LOT) {
  const closed = jest.fn();
  renderWithQueries(<LotDialog lot={lot} onClose={closed} />);
  return closed;
}
const input = (name: string) => document.querySelector<HTMLInputElement>(`[name="${name}"]`)!;
const keep = () => fireEvent.submit(document.querySelector('form')!);

test('without a lot nothing is open', () => {
  open(null);
  expect(screen.queryByRole('dialog')).toBeNull();
});

test('it stands in the form as it is', () => {
  open();
  expect(screen.getByRole('dialog').textContent).toContain('lot 7 / attic');
  const values = ['name', 'lender', 'cameIn', 'handBackBy', 'revolutions', 'tries', 'sweep'].map(
    (name) => input(name).value,
  );
  expect(values).toEqual([
    'lot 7 / attic',
    'harbour school',
    '2026-03-04',
    '2026-12-01',
    '3',
    '8',
    'inward',
  ]);
  expect(input('gentle').checked).toBe(false);
});

test('what was changed goes to the lot of that name, numbers as numbers', async () => {
  const sent = serve();
  const closed = open();
  fireEvent.change(input('lender'), { target: { value: 'survey office' } });
  fireEvent.change(input('tries'), { target: { value: '12' } });
  fireEvent.change(input('sweep'), { target: { value: 'outward' } });
  fireEvent.click(input('gentle'));
  fireEvent.change(input('codePattern'), { target: { value: '2026/7/##' } });
  keep();
  await waitFor(() => expect(closed).toHaveBeenCalledTimes(1));
  expect(changesIn(sent)).toEqual([
    {
      path: '/api/lots/lot%207%20%2F%20attic',
      body: {
        ...{ name: 'lot 7 / attic', withMedia: true },
        lender: 'survey office',
        cameIn: '2026-03-04',
        handBackBy: '2026-12-01',
        revolutions: 3,
        tries: 12,
        sweep: 'outward',
        gentle: true,
        codePattern: '2026/7/##',
      },
    },
  ]);
});

test('a number that can’t be is told beside its field, and nothing is sent', async () => {
  const sent = serve();
  const closed = open();
  fireEvent.change(input('revolutions'), { target: { value: '0' } });
  keep();
  await waitFor(() => expect(input('revolutions').getAttribute('aria-invalid')).toBe('true'));
  expect(input('tries').getAttribute('aria-invalid')).toBe('false');
  expect([changesIn(sent), closed.mock.calls.length]).toEqual([[], 0]);
});

test('what the server refuses is told, and the form stays', async () => {
  serve({ answer: { error: 'FALSE NEWS' }, status: 409 });
  const closed = open();
  keep();
  expect((await screen.findByRole('alert')).textContent).toContain('FALSE NEWS');
  expect(closed).not.toHaveBeenCalled();
});
