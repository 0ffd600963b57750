/** Work that is let in: so many at once, in order, whatever becomes of it. */
import { setImmediate as turn } from 'node:timers/promises';
import { Turns } from './turns';

/** Work that ends when it is told to. */
function begun(turns: Turns, started: number[], n: number) {
  let end!: (how: 'well' | 'badly') => void;
  const ended = turns.during(async () => {
    started.push(n);
    const how = await new Promise((resolve) => (end = resolve));
    if (how === 'badly') throw new Error(String(n));
    return n;
  });
  return { ended, end: (how: 'well' | 'badly') => end(how) };
}

test('two at once, the others in the order in which they came', async () => {
  const turns = new Turns(2);
  const started: number[] = [];
  const all = [0, 1, 2, 3, 4].map((n) => begun(turns, started, n));
  await turn();
  expect(started).toEqual([0, 1]);
  all[1]!.end('well');
  expect(await all[1]!.ended).toBe(1);
  await turn();
  expect(started).toEqual([0, 1, 2]);
  all[0]!.end('badly');
  await expect(all[0]!.ended).rejects.toThrow('0');
  await turn();
  expect(started).toEqual([0, 1, 2, 3]);
  for (const n of [2, 3]) {
    all[n]!.end('well');
    await all[n]!.ended;
  }
  await turn();
  all[4]!.end('well');
  expect(await all[4]!.ended).toBe(4);
  expect(started).toEqual([0, 1, 2, 3, 4]);
});

test('a turn that nobody waits for is free again', async () => {
  const turns = new Turns(1);
  for (let n = 0; n < 3; n++) expect(await turns.during(async () => n)).toBe(n);
});
