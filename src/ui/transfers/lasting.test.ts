/** How long a line takes: ten bits a byte, five bytes more a block of 128. */
import { lasting } from './lasting';

test.each([
  [0, 9600, 'minute'],
  [80_000, 9600, 'minute'],
  [174_848, 9600, '3 minutes'],
  [737_280, 9600, '13 minutes'],
  [737_280, 300, '7.1 hours'],
  [1_474_560, 300, '14.2 hours'],
])('%i bytes at %i bits a second: %s', (bytes, rate, told) =>
  expect(lasting(bytes, rate)).toContain(told),
);

test('twice the rate takes half the time', () => {
  const minutes = (text: string) => Number(/[\d.]+/.exec(text)![0]);
  expect(minutes(lasting(737_280, 4800))).toBe(2 * minutes(lasting(737_280, 9600)) + 1);
});
