/** @jest-environment jsdom */
/** Another drive is named with how much it should give, and by what. */
import { screen } from '@testing-library/react';
import { renderWithQueries } from '../../../../tests/support/render';
import type { DocketData } from '../../data/queries';
import { NextDrive } from '../surface';

type Expected = NonNullable<DocketData['nextDrive']>;
const expected: Expected = {
  station: 4,
  readIn: 1,
  isSame: false,
  isSlower: false,
  share: 0.36,
  inDoubt: 14,
  of: 0,
  gained: 0,
};
const shown = (of: Partial<Expected>) => {
  renderWithQueries(<NextDrive expected={{ ...expected, ...of }} />);
  return screen.getByTestId('next-drive').textContent!.match(/\d+/g)!.map(Number);
};

test('none is named where none helps', () => {
  const { container } = renderWithQueries(<NextDrive expected={null} />);
  expect(container.textContent).toBe('');
});

test.each([
  ['nothing is known of it', {}, [4, 5, 14]],
  ['it turns slower', { isSlower: true }, [4, 5, 14, 1]],
  ['it was tried', { of: 50, gained: 40 }, [4, 5, 14, 40, 50]],
  ['it gives next to nothing', { share: 0.01 }, [4, 1, 14]],
])('where %s', (_, of, numbers) => {
  expect(shown(of)).toEqual(numbers);
});
