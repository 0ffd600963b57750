/** @jest-environment jsdom */
/** How a disk did in its machine: asked until somebody says, and said anew where it was wrong. */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { changesIn, renderWithQueries, serve } from '../../../tests/support/render';
import type { WritebackRow } from '../data/queries';
import { Trial } from './writeback-trial';

const row = (outcome: string | null, outcomeNote = '') =>
  ({ id: 5, outcome, outcomeNote }) as unknown as WritebackRow;
const show = (of: WritebackRow) => renderWithQueries(<Trial row={of} />);
const note = () => screen.getByRole<HTMLInputElement>('textbox');

test.each([
  [0, 'works'],
  [1, 'does-not'],
  [2, 'not-tried'],
])('answer %i is %s, with its note', async (at, outcome) => {
  const asked = serve();
  show(row(null));
  fireEvent.change(note(), { target: { value: 'in the reading room' } });
  fireEvent.click(screen.getAllByRole('button')[at]!);
  await waitFor(() =>
    expect(changesIn(asked)).toEqual([
      { path: '/api/writebacks/5', body: { outcome, note: 'in the reading room' } },
    ]),
  );
});

test('what was said stands there with its note, and can be said anew', () => {
  serve();
  show(row('works', 'booted at once'));
  expect(screen.getByTestId('trial').textContent).toContain('booted at once');
  expect(screen.queryByRole('textbox')).toBeNull();
  fireEvent.click(screen.getByRole('button'));
  expect(note().value).toBe('booted at once');
  expect(screen.getAllByRole('button')).toHaveLength(3);
});

test('a refusal is said, and the note is kept', async () => {
  serve({ answer: { error: 'It is not written yet.' }, status: 409 });
  show(row(null));
  fireEvent.change(note(), { target: { value: 'too early' } });
  fireEvent.click(screen.getAllByRole('button')[0]!);
  expect((await screen.findByRole('alert')).textContent).toBe('It is not written yet.');
  expect(note().value).toBe('too early');
});
