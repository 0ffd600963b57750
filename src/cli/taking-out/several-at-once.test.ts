/** Several at once: no more than asked, results in order, and failures that leave nothing under way. */
import { severalAtOnce } from './several-at-once';

const turns = (count = 1) =>
  Array.from({ length: count }).reduce<Promise<void>>(
    (before) => before.then(() => new Promise((resolve) => setImmediate(resolve))),
    Promise.resolve(),
  );

async function* numbers(count: number, taken: number[] = []) {
  for (let i = 0; i < count; i++) {
    taken.push(i);
    yield i;
  }
}

test.each([1, 3, 50])(
  'at most %i, and the results in the order of what they are of',
  async (most) => {
    let [now, greatest] = [0, 0];
    const results = await severalAtOnce(numbers(20), most, async (i) => {
      greatest = Math.max(greatest, ++now);
      // The later ones are done sooner.
      await turns(20 - i);
      now--;
      return i * i;
    });
    expect(results).toEqual(Array.from({ length: 20 }, (_, i) => i * i));
    expect(greatest).toBe(Math.min(most, 20));
  },
);

test('nothing gives nothing', async () =>
  expect(await severalAtOnce(numbers(0), 2, async (i) => i)).toEqual([]));

test('a failure is told once what was begun has ended, and no more is begun', async () => {
  const [taken, ended]: number[][] = [[], []];
  const all = severalAtOnce(numbers(100, taken), 3, async (i) => {
    if (i === 4) throw new Error('the fifth');
    await turns(3 + i);
    ended!.push(i);
  });
  await expect(all).rejects.toThrow('the fifth');
  const begun = taken!.filter((i) => i !== 4);
  expect(begun.length).toBeLessThan(9);
  expect(ended!.sort((a, b) => a - b)).toEqual(begun.slice(0, ended!.length));
  const atTheEnd = ended!.length;
  await turns(30);
  expect(ended).toHaveLength(atTheEnd);
});

test('where the next can’t be had, what was begun ends first', async () => {
  const ended: number[] = [];
  async function* failing() {
    yield 1;
    throw new Error('no more');
  }
  const all = severalAtOnce(failing(), 3, async (i) => {
    await turns(5);
    ended.push(i);
  });
  await expect(all).rejects.toThrow('no more');
  expect(ended).toEqual([1]);
});
