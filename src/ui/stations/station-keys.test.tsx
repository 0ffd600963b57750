/** @jest-environment jsdom */
/** Keys of the stations: a number, then a letter, from any page but not from a field or a dialog. */
import { act, fireEvent, screen, waitFor } from '@testing-library/react';
import { keepSent, renderWithQueries } from '../../../tests/support/render';
import { mediumIn, sittingAt, station } from '../../../tests/support/stations';
import type { Station } from '../data/queries';
import { useStationKeys } from './station-keys';

const push = jest.fn();
const mockRouter = { push };
jest.mock('next/navigation', () => ({ useRouter: () => mockRouter }));

function Page({ stations }: { stations: Station[] }) {
  const { chosen, said } = useStationKeys(stations);
  return (
    <>
      <p data-testid="chosen">{chosen ?? 'none'}</p>
      <p data-testid="said" data-wrong={said?.wrong}>
        {said?.text}
      </p>
      <input aria-label="a field" />
    </>
  );
}

const stations = [
  station({ id: 2, medium: mediumIn() }),
  station({ id: 3, medium: mediumIn({ code: 'TST-0008' }), sitting: sittingAt('reading') }),
];
const show = () => renderWithQueries(<Page stations={stations} />);
const press = (key: string, on: Element | Window = window) => fireEvent.keyDown(on, { key });
const chosen = () => screen.getByTestId('chosen').textContent;

beforeEach(() => push.mockReset());
afterEach(() => jest.useRealTimers());

test('a number and a letter ask that station, and what came of it is said', async () => {
  const sent = keepSent();
  show();
  press('3');
  expect(chosen()).toBe('3');
  press('p');
  expect(chosen()).toBe('none');
  await waitFor(() => expect(screen.getByTestId('said').textContent).not.toBe(''));
  expect(sent).toEqual([{ path: '/api/sittings/11', body: { requestedAction: 'pause' } }]);
  expect(screen.getByTestId('said').dataset.wrong).toBe('false');
});

test('what the server refuses is said as it says it', async () => {
  keepSent({ error: 'The drive is at work.', code: 'conflict' }, 409);
  show();
  press('2');
  press('L');
  await waitFor(() => expect(screen.getByTestId('said').textContent).toBe('The drive is at work.'));
  expect(screen.getByTestId('said').dataset.wrong).toBe('true');
});

test('a letter that means nothing there asks nothing, and the number is forgotten', async () => {
  const sent = keepSent();
  show();
  press('2');
  press('p');
  press('o');
  await act(async () => {});
  expect([sent, chosen()]).toEqual([[], 'none']);
});

test('the number alone, twice, or Enter behind it opens the station', () => {
  keepSent();
  show();
  press('2');
  press('Enter');
  press('3');
  press('3');
  expect(push.mock.calls).toEqual([['/bench?station=2'], ['/bench?station=3']]);
});

test('a number of no station, one that is typed, and one under a dialog are the page’s own', () => {
  keepSent();
  show();
  press('7');
  expect(chosen()).toBe('none');
  press('2', screen.getByLabelText('a field'));
  expect(chosen()).toBe('none');
  const dialog = document.createElement('div');
  dialog.setAttribute('role', 'dialog');
  document.body.append(dialog);
  press('2');
  dialog.remove();
  expect(chosen()).toBe('none');
  fireEvent.keyDown(window, { key: '2', ctrlKey: true });
  expect(chosen()).toBe('none');
});

test('a number waits some seconds for its letter and no longer', () => {
  jest.useFakeTimers();
  keepSent();
  show();
  press('2');
  act(() => void jest.advanceTimersByTime(3000));
  expect(chosen()).toBe('2');
  act(() => void jest.advanceTimersByTime(2000));
  expect(chosen()).toBe('none');
});

test('another number takes the place of the first', () => {
  keepSent();
  show();
  press('2');
  press('3');
  expect(chosen()).toBe('3');
});
