/** The capacity ruler adds up to what the volume says. */
import { markEvery, stretchesOf } from '../ruler-layout';

test("the volume's own first, then every file by what it costs; never beyond the end", () => {
  const entries = [
    { path: 'LOGS', cost: null, change: 'new' },
    { path: 'LOGS/A', cost: 3, change: 'new' },
    { path: 'EMPTY', cost: 0, change: null },
    { path: 'B', cost: 5, change: null },
  ];
  expect(stretchesOf({ total: 20, free: 11 }, entries)).toEqual([
    { path: null, change: null, from: 0, to: 1 },
    { path: 'LOGS/A', change: 'new', from: 1, to: 4 },
    { path: 'B', change: null, from: 4, to: 9 },
  ]);
  expect(stretchesOf({ total: 6, free: 0 }, entries).at(-1)).toMatchObject({ from: 3, to: 6 });
  expect(stretchesOf({ total: 20, free: 20 }, [])).toEqual([]);
});

test.each([
  [664, 50],
  [68, 5],
  [713, 50],
  [2847, 200],
  [1, 1],
  [16, 1],
])('%i units are marked every %i', (total, every) => {
  expect(markEvery(total)).toBe(every);
});
