/** @jest-environment jsdom */
/** The room that is taken: figures, months and lots; what is not known is said to be so. */
import { screen } from '@testing-library/react';
import { say } from '@/messages';
import { answerWith, renderWithQueries } from '../../../tests/support/render';
import type { Room as RoomState } from '../data/paper-queries';
import { Room } from './room';

const ROOM: RoomState = {
  ...{ bytes: 6 * 2 ** 30, aMonth: 2 ** 30, free: 10 * 2 ** 30, reserve: 2 ** 29 },
  monthsLeft: 9.5,
  months: [
    { month: '2026-12', bytes: 2 ** 29 },
    { month: '2026-11', bytes: 2 ** 30 },
  ],
  lots: [
    { lot: 'lot 2', bytes: 4 * 2 ** 30 },
    { lot: '', bytes: 2 ** 20 },
  ],
  moreLots: 3,
};

async function show(more: Partial<RoomState> = {}): Promise<HTMLElement> {
  answerWith({ '/api/store/room': { ...ROOM, ...more } });
  renderWithQueries(<Room />);
  return screen.findByTestId('room');
}
const figures = (room: HTMLElement) =>
  [...room.querySelectorAll('dd')].map(({ textContent }) => textContent);

test('how much, how fast, how long', async () => {
  expect(figures(await show())).toEqual([
    ...['6.0 GiB', '10.0 GiB', '512 MiB'],
    say.room.aMonth({ bytes: '1.0 GiB' }),
    say.room.months({ monthsLeft: 9.5 }),
  ]);
});

test('where nothing says how much is free, nothing is promised', async () => {
  const told = figures(await show({ free: null, monthsLeft: null }));
  expect([told[1], told[4]]).toEqual([say.room.notKnown, say.room.notKnown]);
});

test('lots lead to their pages, what is of none does not; those not listed are counted', async () => {
  const room = await show();
  const links = screen.getAllByRole('link').map((link) => link.getAttribute('href'));
  expect(links).toEqual(['/lots/lot%202']);
  expect(room.textContent).toContain(say.room.noLot);
  expect(room.textContent).toContain(say.room.moreLots({ moreLots: 3 }));
  const bars = screen.getAllByRole('progressbar').map((bar) => bar.getAttribute('aria-valuenow'));
  expect(bars).toEqual(['50', '100', '100', '0']);
});

test('a store with nothing in it has no tables', async () => {
  await show({ bytes: 0, months: [], lots: [], moreLots: 0 });
  expect(screen.queryByRole('table')).toBeNull();
});

test.each([
  [0.4, 'less than a month'],
  [1.9, 'one month'],
  [119.9, '119 months'],
  [500, 'more than ten years'],
])('%d months are %s', (monthsLeft, words) => {
  expect(say.room.months({ monthsLeft })).toBe(words);
});
