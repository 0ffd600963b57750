/** @jest-environment jsdom */
/** What may be done with something, line by line: what counts, whose it is, and what has opened. */
import { screen } from '@testing-library/react';
import { NO_RIGHTS_SAID } from '@/core/description/rights';
import { renderWithQueries } from '../../../../tests/support/render';
import { RightsPanel } from '../rights-panel';

type Props = Parameters<typeof RightsPanel>[0];
const INC = 'http://rightsstatements.org/vocab/InC/1.0/';
const restriction = { reason: 'by agreement', opensOn: '2041-01-01' };
const RESTRICTED = { ...NO_RIGHTS_SAID, restriction };
const hold = (from: Props['holds'][number]['from'], more: object = {}) => ({
  ...{ from, ...restriction, isPersonal: false },
  ...more,
});

function lines({
  kind = 'media',
  own = null,
  statement = null,
  holds = [],
}: Partial<Props['rights'] & Props>) {
  renderWithQueries(<RightsPanel {...{ kind, holds }} name="X" rights={{ own, statement }} />);
  return [...screen.getByTestId('rights').querySelectorAll('dt')].map(
    (term) => term.nextElementSibling!.textContent,
  );
}

test('where nothing is said, that is told', () => {
  expect(lines({})).toHaveLength(1);
  expect(document.querySelector('dl a')).toBeNull();
});

test('a statement leads to what it means, and is told whose it is', () => {
  const [uri, words] = lines({ statement: { statement: INC, words: 'ask', from: 'lot' } });
  expect(uri).toContain(INC);
  expect(words).toMatch(/^ask.*lot/);
  expect(document.querySelector('dl a')!.getAttribute('href')).toBe(INC);
});

test('all that holds a medium is told with where it is said', () => {
  const told = lines({
    own: RESTRICTED,
    holds: [
      hold('medium'),
      hold('source', { name: 'SKP-0104' }),
      hold('lot', { isPersonal: true }),
    ],
  });
  expect(told).toHaveLength(3);
  expect(told[0]).toMatch(/2041-01-01: by agreement$/);
  expect(told[1]).toContain('SKP-0104');
});

test('what has opened is told so, of a medium and of a lot; what still holds is not', () => {
  expect(lines({ own: RESTRICTED, holds: [hold('lot')] })).toHaveLength(2);
  document.body.innerHTML = '';
  expect(lines({ kind: 'lots', own: RESTRICTED, holds: [hold('lot')] })).toHaveLength(1);
  document.body.innerHTML = '';
  expect(lines({ kind: 'lots', own: RESTRICTED })).toEqual([expect.stringContaining('2041-01-01')]);
});
