/** @jest-environment jsdom */
/** How arrivals are narrowed: what each control asks for, beside what is asked already. */
import { fireEvent, render, screen } from '@testing-library/react';
import type { ArrivalsAsked } from '../../data/queries';
import { ArrivalsFilters } from '../arrivals-filters';

function show(asked: ArrivalsAsked = {}) {
  const changes: ArrivalsAsked[] = [];
  render(
    <ArrivalsFilters asked={asked} incomplete={12} onAsk={(change) => changes.push(change)} />,
  );
  return changes;
}

test('a word is asked for as it is typed, and what is asked stands there', () => {
  const changes = show({ q: 'tide' });
  const field = screen.getByRole<HTMLInputElement>('searchbox');
  expect(field.value).toBe('tide');
  fireEvent.change(field, { target: { value: 'tides' } });
  expect(changes).toEqual([{ q: 'tides' }]);
});

test('the key for it goes there', () => {
  show();
  fireEvent.keyDown(document.body, { key: '/' });
  expect(document.activeElement).toBe(screen.getByRole('searchbox'));
});

test.each([
  [{}, 'risk'],
  [{ order: 'code' }, 'risk'],
  [{ order: 'risk' }, 'code'],
] as const)('from %j the order turns to %s', (asked, order) => {
  const changes = show(asked);
  fireEvent.click(screen.getByRole('button'));
  expect(changes).toEqual([{ order }]);
});

test('those that lack something, and all of them again', () => {
  const changes = show({ incomplete: '1' });
  const box = screen.getByRole<HTMLInputElement>('checkbox');
  expect(box.checked).toBe(true);
  fireEvent.click(box);
  expect(changes).toEqual([{ incomplete: '0' }]);
});

test('one form of medium, or any', () => {
  const changes = show({ form: '5.25' });
  const choice = screen.getByRole<HTMLSelectElement>('combobox');
  expect(choice.value).toBe('5.25');
  fireEvent.change(choice, { target: { value: '8' } });
  fireEvent.change(choice, { target: { value: '' } });
  expect(changes.map(({ form }) => form ?? '')).toEqual(['8', '']);
});
