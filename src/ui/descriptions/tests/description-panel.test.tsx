/** @jest-environment jsdom */
/** A description shown: with whence a medium has what it does not say itself. */
import { screen } from '@testing-library/react';
import { renderWithQueries } from '../../../../tests/support/render';
import type { Description } from '../describe-dialog';
import { DescriptionPanel } from '../description-panel';

const ACQUIRED = { from: 'E. Wren', on: '2019-05', how: 'gift', notes: '', agreement: 7 } as const;
const NONE: Description = {
  own: { elements: {}, acquisition: null },
  elements: [],
  acquisition: null,
  agreements: [],
};
const show = (description: Description, kind: 'media' | 'lots' = 'media') =>
  renderWithQueries(
    <DescriptionPanel
      kind={kind}
      name="TST-0001"
      setName="Logs"
      lot="Tin box"
      description={description}
      papers={[]}
    />,
  );
const lines = () =>
  [...screen.getByTestId('description').querySelectorAll('dt')].map((term) => [
    term.textContent,
    term.nextElementSibling!.textContent,
  ]);

test('where nothing is said that is told, and it can be described', () => {
  show(NONE);
  expect(lines()).toEqual([]);
  expect(screen.getByRole('button').getAttribute('aria-keyshortcuts')).toBe('d');
});

test('each element stands with its values, and whose it is where it is not its own', () => {
  show({
    ...NONE,
    elements: [
      { element: 'creator', values: ['A. Rook', 'B. Jay'], from: 'medium' },
      { element: 'subject', values: ['fog'], from: 'set' },
      { element: 'coverage', values: ['Skerries'], from: 'lot' },
    ],
  });
  expect(lines()).toEqual([
    ['creator', 'A. RookB. Jay'],
    ['subject', expect.stringMatching(/^fog.*Logs/)],
    ['place or time it is about', expect.stringMatching(/^Skerries.*Tin box/)],
  ]);
});

test('a lot is not told to have of its lot what it says itself', () => {
  show({ ...NONE, elements: [{ element: 'subject', values: ['fog'], from: 'lot' }] }, 'lots');
  expect(lines()).toEqual([['subject', 'fog']]);
});

test('an agreement is linked; one that is gone is told', () => {
  const acquisition = { value: { ...ACQUIRED }, from: 'medium' } as const;
  show({ ...NONE, acquisition, agreements: [{ id: 7, name: 'a.pdf', type: 'application/pdf' }] });
  expect(screen.getAllByRole('link').map((link) => link.getAttribute('href'))).toEqual([
    '/api/papers/7',
    '/api/descriptions/media/TST-0001',
  ]);
});

test('an agreement that was taken away has no link', () => {
  show({ ...NONE, acquisition: { value: { ...ACQUIRED }, from: 'medium' } });
  expect(screen.getAllByRole('link')).toHaveLength(1);
  expect(lines()[0]![1]).toMatch(/E\. Wren.*taken away/);
});
