/** @jest-environment jsdom */
/** Enter before an answer: done with it, given up where it fails. */
import { renderHook } from '@testing-library/react';
import { useEnterWhenAnswered, type Answer } from '../enter-when-answered';

function begin(answer: Answer) {
  const act = jest.fn();
  const { result, rerender } = renderHook((now: Answer) => useEnterWhenAnswered(now, act), {
    initialProps: answer,
  });
  return { act, rerender, press: () => result.current.press() };
}

test('what is pressed while the answer is awaited is done once with it, as often as it was pressed', () => {
  const { act, rerender, press } = begin('awaited');
  press();
  press();
  expect(act).not.toHaveBeenCalled();
  rerender('here');
  rerender('here');
  expect(act).toHaveBeenCalledTimes(2);
});

test('where the answer fails it is given up, and not done when one comes later', () => {
  const { act, rerender, press } = begin('awaited');
  press();
  rerender('failed');
  press();
  rerender('here');
  expect(act).not.toHaveBeenCalled();
  press();
  expect(act).toHaveBeenCalledTimes(1);
});
