/** @jest-environment jsdom */
/** Whose files are: asked before they are taken in, kept for the next, and never a hindrance. */
import { fireEvent, screen } from '@testing-library/react';
import { renderWithQueries } from '../../../../tests/support/render';
import type { Holdings } from '../../data/queries';
import { rememberedWhose, rememberWhose } from './whose';
import { WhoseDialog } from './whose-dialog';

const FACETS = {
  lender: [
    { value: 'The keeper', count: 3 },
    { value: 'not known', count: 2 },
  ],
  lot: [{ value: 'none', count: 5 }],
} as unknown as Holdings['facets'];
const field = (name: string) => document.querySelector<HTMLInputElement>(`[name=${name}]`)!;

function ask() {
  const asked = { go: jest.fn(), leave: jest.fn() };
  renderWithQueries(<WhoseDialog asked={asked} facets={FACETS} />);
  return asked;
}
beforeEach(() => sessionStorage.clear());

test('what was said goes on, without blanks around it', () => {
  const { go } = ask();
  fireEvent.change(field('lender'), { target: { value: '  The keeper ' } });
  fireEvent.change(field('lot'), { target: { value: 'Tin box' } });
  fireEvent.submit(document.querySelector('form')!);
  expect(go.mock.calls).toEqual([[{ lender: 'The keeper', lot: 'Tin box' }]]);
});

test('both may stay empty', () => {
  const { go } = ask();
  fireEvent.submit(document.querySelector('form')!);
  expect(go.mock.calls).toEqual([[{ lender: '', lot: '' }]]);
});

test('what was said before is offered, and what is known, but no words of ours', () => {
  rememberWhose({ lender: 'The school', lot: 'lot 3' });
  ask();
  expect([field('lender').value, field('lot').value]).toEqual(['The school', 'lot 3']);
  const offered = [...document.querySelectorAll('option')].map((option) => option.value);
  expect(offered).toEqual(['The keeper']);
});

test('who leaves takes nothing in', () => {
  const { go, leave } = ask();
  fireEvent.keyDown(screen.getByRole('dialog'), { key: 'Escape' });
  expect([go.mock.calls.length, leave.mock.calls.length]).toEqual([0, 1]);
});

test.each(['no JSON', 'null', '[]', '{"lender":7}'])(
  'what is kept as %s hinders nothing',
  (kept) => {
    sessionStorage.setItem('spindle-taken-in-of', kept);
    expect(rememberedWhose()).toEqual({ lender: kept.includes('7') ? '7' : '', lot: '' });
  },
);
