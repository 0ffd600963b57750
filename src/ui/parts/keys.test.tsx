/** @jest-environment jsdom */
/** Keys of a page: with what they are pressed, and where they are somebody else's. */
import { fireEvent, render, screen } from '@testing-library/react';
import { useKey } from './keys';

const pressed = jest.fn();

function Page({ keys, off = false }: { keys: string; off?: boolean }) {
  useKey(keys, off ? undefined : pressed);
  return (
    <>
      <input aria-label="field" />
      <input type="checkbox" aria-label="box" />
      <textarea aria-label="text" />
      <select aria-label="choice" />
      <button type="button">a button</button>
      <a href="#here">a link</a>
      <p data-testid="plain">text</p>
    </>
  );
}

beforeEach(() => pressed.mockReset());

test.each([
  ['p', { key: 'p' }, 1],
  ['p', { key: 'P' }, 1],
  ['p', { key: 'P', shiftKey: true }, 0],
  ['p', { key: 'p', ctrlKey: true }, 0],
  ['p', { key: 'p', metaKey: true }, 0],
  ['p', { key: 'p', altKey: true }, 0],
  ['p', { key: 'p', repeat: true }, 0],
  ['p', { key: 'q' }, 0],
  ['shift+u', { key: 'U', shiftKey: true }, 1],
  ['shift+u', { key: 'u' }, 0],
  ['mod+k', { key: 'k', ctrlKey: true }, 1],
  ['mod+k', { key: 'k', metaKey: true }, 1],
  ['mod+k', { key: 'k' }, 0],
  ['mod+k', { key: 'K', ctrlKey: true, shiftKey: true }, 0],
  ['Enter', { key: 'Enter' }, 1],
  ['Enter', { key: 'Enter', shiftKey: true }, 1],
  ['ArrowDown', { key: 'ArrowDown' }, 1],
])('%s hears %j %i times', (keys, event, times) => {
  render(<Page keys={keys} />);
  fireEvent.keyDown(window, event);
  expect(pressed).toHaveBeenCalledTimes(times);
});

test.each(['field', 'text', 'choice'])('what is typed into a %s is no key of the page', (label) => {
  render(<Page keys="p" />);
  fireEvent.keyDown(screen.getByLabelText(label), { key: 'p' });
  expect(pressed).not.toHaveBeenCalled();
});

test('a key with the control key is heard from a field too', () => {
  render(<Page keys="mod+k" />);
  fireEvent.keyDown(screen.getByLabelText('field'), { key: 'k', ctrlKey: true });
  expect(pressed).toHaveBeenCalledTimes(1);
});

test('Enter on a button or a link is its own; elsewhere it is the page’s', () => {
  render(<Page keys="Enter" />);
  fireEvent.keyDown(screen.getByRole('button'), { key: 'Enter' });
  fireEvent.keyDown(screen.getByRole('link'), { key: 'Enter' });
  expect(pressed).not.toHaveBeenCalled();
  fireEvent.keyDown(screen.getByTestId('plain'), { key: 'Enter' });
  expect(pressed).toHaveBeenCalledTimes(1);
});

test('under a dialog the page hears nothing', () => {
  render(
    <>
      <Page keys="p" />
      <div role="dialog" />
    </>,
  );
  fireEvent.keyDown(window, { key: 'p' });
  expect(pressed).not.toHaveBeenCalled();
});

test('a key that does nothing now leaves the event alone; one that does takes it', () => {
  const { rerender } = render(<Page keys="p" off />);
  expect(fireEvent.keyDown(window, { key: 'p' })).toBe(true);
  rerender(<Page keys="p" />);
  expect(fireEvent.keyDown(window, { key: 'p' })).toBe(false);
  expect(pressed).toHaveBeenCalledTimes(1);
});

test('a page that is gone hears nothing more', () => {
  const { unmount } = render(<Page keys="p" />);
  unmount();
  fireEvent.keyDown(window, { key: 'p' });
  expect(pressed).not.toHaveBeenCalled();
});

test('in a box that is ticked only the key that ticks it is the box’s own', () => {
  const pressIn = (keys: string, key: string) => {
    const { unmount } = render(<Page keys={keys} />);
    fireEvent.keyDown(screen.getByLabelText('box'), { key });
    unmount();
  };
  pressIn('p', 'p');
  pressIn('ArrowUp', 'ArrowUp');
  expect(pressed).toHaveBeenCalledTimes(2);
  pressIn(' ', ' ');
  expect(pressed).toHaveBeenCalledTimes(2);
});
