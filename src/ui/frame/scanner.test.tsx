/** @jest-environment jsdom */
/** A label scanner types like a keyboard: a dot, a code, Enter, faster than any hand. */
import { act, createEvent, fireEvent, screen, waitFor } from '@testing-library/react';
import { keepSent, renderWithQueries } from '../../../tests/support/render';
import { useScanned, useScanner } from './scanner';

const push = jest.fn();
const mockRouter = { push };
jest.mock('next/navigation', () => ({ useRouter: () => mockRouter }));

function Page({
  station = null,
  take,
}: {
  station?: number | null;
  take?: (code: string) => boolean;
}) {
  const said = useScanner(station);
  useScanned(take ?? (() => false));
  return (
    <>
      <p data-testid="said" data-wrong={said?.wrong}>
        {said?.text}
      </p>
      <input aria-label="field" />
    </>
  );
}
const type = (text: string, on: Element | Window = window) => {
  for (const key of text) fireEvent.keyDown(on, { key });
};
/** Keys that were all pressed at one moment, in milliseconds of the page. */
const pressAt = (at: number, ...keys: string[]) => {
  for (const key of keys) {
    const event = createEvent.keyDown(window, { key });
    Object.defineProperty(event, 'timeStamp', { value: at });
    fireEvent(window, event);
  }
};
const scan = (text: string, end = 'Enter') => {
  type(text);
  fireEvent.keyDown(window, { key: end });
};
const FOUND = { code: 'TST-0001', station: null, said: 'TST-0001 waits.' };

beforeEach(() => push.mockReset());
afterEach(() => jest.useRealTimers());

test.each(['Enter', 'Tab'])(
  'a code that ends with %s is asked for, and its docket opened',
  async (end) => {
    const sent = keepSent(FOUND);
    renderWithQueries(<Page station={2} />);
    scan('.TST-0001', end);
    await waitFor(() => expect(push.mock.calls).toEqual([['/media/TST-0001']]));
    expect(sent).toEqual([{ path: '/api/scan', body: { code: 'TST-0001', station: 2 } }]);
    expect(screen.getByTestId('said').textContent).toBe('TST-0001 waits.');
  },
);

test('a medium in a station opens that station', async () => {
  keepSent({ ...FOUND, station: 3 });
  renderWithQueries(<Page />);
  scan('.TST-0001');
  await waitFor(() => expect(push.mock.calls).toEqual([['/bench?station=3']]));
});

test('a page that shows media may take the code for itself', async () => {
  keepSent(FOUND);
  const taken: string[] = [];
  renderWithQueries(<Page take={(code) => taken.push(code) > 0} />);
  scan('.TST-0001');
  await waitFor(() => expect(taken).toEqual(['TST-0001']));
  expect(push).not.toHaveBeenCalled();
});

test('what is not known is said as the server says it', async () => {
  keepSent({ error: 'No medium has this code.' }, 404);
  renderWithQueries(<Page />);
  scan('.XYZ');
  await waitFor(() =>
    expect(screen.getByTestId('said').textContent).toBe('No medium has this code.'),
  );
  expect(screen.getByTestId('said').dataset.wrong).toBe('true');
});

test('letters without the dot, and letters in a field, are no scan', async () => {
  const sent = keepSent(FOUND);
  renderWithQueries(<Page />);
  scan('TST-0001');
  type('.TST-0001', screen.getByLabelText('field'));
  fireEvent.keyDown(screen.getByLabelText('field'), { key: 'Enter' });
  await act(async () => {});
  expect(sent).toEqual([]);
});

test('a dot alone asks nothing, and a pause forgets what was begun', async () => {
  const sent = keepSent(FOUND);
  renderWithQueries(<Page />);
  pressAt(1000, '.', 'Enter');
  pressAt(2000, ...'.TST');
  pressAt(2500, ...'-0001', 'Enter');
  await act(async () => {});
  expect(sent).toEqual([]);
});

test('a scan that a busy page comes to late is a scan all the same', async () => {
  jest.useFakeTimers();
  const sent = keepSent(FOUND);
  renderWithQueries(<Page />);
  pressAt(1000, ...'.TST');
  act(() => void jest.advanceTimersByTime(3000));
  pressAt(1020, ...'-0001', 'Enter');
  await act(async () => {});
  expect(sent).toEqual([{ path: '/api/scan', body: { code: 'TST-0001', station: null } }]);
});

test('none of its letters is a key of the page', () => {
  keepSent(FOUND);
  const heard: string[] = [];
  const listen = (event: KeyboardEvent) => heard.push(event.key);
  renderWithQueries(<Page />);
  window.addEventListener('keydown', listen);
  type('a.pg');
  window.removeEventListener('keydown', listen);
  expect(heard).toEqual(['a']);
});

test('a code without end is cut', async () => {
  const sent = keepSent(FOUND);
  renderWithQueries(<Page />);
  scan(`.${'9'.repeat(100)}`);
  await waitFor(() => expect(sent).toHaveLength(1));
  expect((sent[0]!.body as { code: string }).code).toBe('9'.repeat(40));
});
