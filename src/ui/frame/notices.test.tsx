/** @jest-environment jsdom */
/** What is wrong with the house stands above every page. */
import { act, screen, waitFor } from '@testing-library/react';
import { answerWith, renderWithQueries } from '../../../tests/support/render';
import { say } from '@/messages';
import type { Outage } from '../data/event-link';
import { Notices } from './notices';

let outage: Outage | null = null;
jest.mock('../data/live', () => ({ useOutage: () => outage }));

const MIB = 2 ** 20;
const shown = () => screen.getByTestId('notice').textContent;

async function withRoom(room: { free: number | null; isLow: boolean }) {
  const asked = answerWith({ '/api/store': { reserve: 512 * MIB, ...room } });
  renderWithQueries(<Notices />);
  await waitFor(() => expect(asked).toEqual(['/api/store']));
  await act(async () => {});
}

afterEach(() => {
  outage = null;
});

test.each([
  ['application', say.frame.nothingAnswers],
  ['store', say.frame.theStoreIsAway],
] as const)('an outage of the %s', async (what, words) => {
  outage = what;
  await withRoom({ free: null, isLow: false });
  expect(shown()).toBe(words);
});

test('a disk that fills up, and one that is full', async () => {
  await withRoom({ free: 1000 * MIB, isLow: true });
  await waitFor(() =>
    expect(shown()).toBe(say.frame.theDiskFills({ free: 1000 * MIB, reserve: 512 * MIB })),
  );
});

test('a disk that is full', async () => {
  await withRoom({ free: 100 * MIB, isLow: true });
  await waitFor(() => expect(shown()).toBe(say.frame.theDiskIsFull({ free: 100 * MIB })));
});

test('nothing, where there is room, or nothing says how much', async () => {
  await withRoom({ free: null, isLow: false });
  expect(shown()).toBe('');
});
