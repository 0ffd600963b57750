/** @jest-environment jsdom */
/** The head of an assembly: what may be done to it, while it takes shape, is settled, and after. */
import { fireEvent, render, screen } from '@testing-library/react';
import type { AssemblyData } from '../../data/queries';
import { AssemblyHead } from '../assembly-head';

const assembly = (more: Partial<AssemblyData> = {}): AssemblyData =>
  ({
    title: 'Reading room',
    filesystem: 'fat12',
    label: 'ROOM',
    layout: 'mfm-35-9x512',
    base: null,
    room: { unit: 'cluster', total: 713, free: 700 },
    done: ['one', 'two'],
    undone: [],
    isSettling: false,
    settledAs: null,
    ...more,
  }) as unknown as AssemblyData;
const mutate = jest.fn();
const show = (more: Partial<AssemblyData> = {}, isPending = false) =>
  render(<AssemblyHead data={assembly(more)} act={{ isPending, mutate }} />);
const enabled = () =>
  screen
    .queryAllByRole<HTMLButtonElement>('button')
    .filter(({ disabled }) => !disabled)
    .map((button) => button.getAttribute('aria-keyshortcuts'));

beforeEach(() => mutate.mockReset());

test.each([
  ['nothing was done', { done: [] }, []],
  ['something was done', {}, ['u', 'k']],
  ['something was undone', { undone: ['three'] }, ['u', 'Shift+u', 'k']],
  ['it is being settled', { isSettling: true }, []],
  ['it is settled', { settledAs: 'TST-0009' }, []],
])('where %s', (_, more, keys) => {
  show(more as Partial<AssemblyData>);
  expect(enabled()).toEqual(keys);
});

test('keys do what the buttons do, and nothing while it is being settled', () => {
  const { unmount } = show({ undone: ['three'] });
  for (const key of ['u', 'k']) fireEvent.keyDown(window, { key });
  fireEvent.keyDown(window, { key: 'U', shiftKey: true });
  expect(mutate.mock.calls).toEqual([[{ do: 'undo' }], [{ do: 'settle' }], [{ do: 'redo' }]]);
  unmount();
  mutate.mockReset();
  show({ isSettling: true });
  for (const key of ['u', 'k']) fireEvent.keyDown(window, { key });
  expect(mutate).not.toHaveBeenCalled();
});

test('what it was settled as is linked', () => {
  show({ settledAs: 'TST-0009' });
  expect(screen.getByRole('link').getAttribute('href')).toBe('/media/TST-0009');
});
