/** A worker that answers in order, and one that breaks. */
import { OneWorker } from './one-worker';

type Posted = { id: number; request: string };

/** Stands for a worker: what was posted, and its two ears. */
class Stand {
  posted: Posted[] = [];
  isEnded = false;
  onmessage: ((event: { data: object }) => void) | null = null;
  onerror: ((event: { message: string }) => void) | null = null;
  terminate() {
    this.isEnded = true;
  }
  postMessage(message: Posted) {
    this.posted.push(message);
  }
}

function suite() {
  const made: Stand[] = [];
  const one = new OneWorker<string, number>(() => {
    made.push(new Stand());
    return made.at(-1) as unknown as Worker;
  });
  return { one, made };
}

test('it is started when first asked, and once', () => {
  const { one, made } = suite();
  expect(made).toHaveLength(0);
  void one.ask('a');
  void one.ask('b');
  expect(made).toHaveLength(1);
  expect(made[0]!.posted.map(({ request }) => request)).toEqual(['a', 'b']);
});

test('each answer goes to who asked, in whatever order they come', async () => {
  const { one, made } = suite();
  const asked = [one.ask('a'), one.ask('b'), one.ask('c')];
  const [a, b, c] = made[0]!.posted;
  made[0]!.onmessage!({ data: { id: c!.id, answer: 3 } });
  made[0]!.onmessage!({ data: { id: a!.id, answer: 1 } });
  made[0]!.onmessage!({ data: { id: b!.id, error: 'no track' } });
  expect(await Promise.allSettled(asked)).toEqual([
    { status: 'fulfilled', value: 1 },
    { status: 'rejected', reason: new Error('no track') },
    { status: 'fulfilled', value: 3 },
  ]);
});

test('where it breaks all that wait are told, and the next asks another', async () => {
  const { one, made } = suite();
  const asked = [one.ask('a'), one.ask('b')];
  made[0]!.onerror!({ message: 'out of memory' });
  for (const { status } of await Promise.allSettled(asked)) expect(status).toBe('rejected');
  const again = one.ask('c');
  expect(made).toHaveLength(2);
  made[1]!.onmessage!({ data: { id: made[1]!.posted[0]!.id, answer: 5 } });
  expect(await again).toBe(5);
});

test('an answer that nobody waits for any more is dropped', () => {
  const { one, made } = suite();
  void one.ask('a');
  expect(() => made[0]!.onmessage!({ data: { id: 999, answer: 1 } })).not.toThrow();
});

test('what is given up goes with its worker, and what waits behind it is asked of another', async () => {
  const { one, made } = suite();
  const ended = new AbortController();
  const asked = [one.ask('a', ended.signal), one.ask('b')];
  ended.abort();
  await expect(asked[0]).rejects.toMatchObject({ name: 'AbortError' });
  expect(made.map(({ isEnded }) => isEnded)).toEqual([true, false]);
  expect(made[1]!.posted.map(({ request }) => request)).toEqual(['b']);
  made[1]!.onmessage!({ data: { id: made[1]!.posted[0]!.id, answer: 2 } });
  expect(await asked[1]).toBe(2);
});

test('what has its answer can be given up no more', async () => {
  const { one, made } = suite();
  const ended = new AbortController();
  const asked = one.ask('a', ended.signal);
  made[0]!.onmessage!({ data: { id: made[0]!.posted[0]!.id, answer: 1 } });
  expect(await asked).toBe(1);
  ended.abort();
  expect(made.map(({ isEnded }) => isEnded)).toEqual([false]);
});
