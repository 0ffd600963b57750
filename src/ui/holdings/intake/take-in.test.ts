/** @jest-environment jsdom */
/** Files taken in one after the other: each told how it came out, a sheet with its image. */
import { takeInFiles, takeInFolder, type Intake } from './take-in';

const NOBODY = { lender: '', lot: '' };
const KEEPER = { lender: 'The keeper', lot: 'Tin & box' };

interface Asked {
  path: string;
  size: number;
}

/** A server that takes in what it is sent, but for names that say otherwise. */
function serve(): Asked[] {
  const asked: Asked[] = [];
  let count = 0;
  const states = new Map<string, object>();
  globalThis.fetch = (async (path: string, init?: RequestInit) => {
    if (init?.method === 'POST') {
      asked.push({ path, size: (init.body as Blob).size });
      const name = new URLSearchParams(path.split('?')[1]).get('name')!;
      const id = `u${++count}`;
      const bad = /bad/.test(name);
      states.set(`/api/uploads/${id}`, {
        state: bad ? 'refused' : 'done',
        now: bad ? 'It is no image of anything.' : 'Taken in.',
        code: bad || /bag/.test(name) ? null : `TST-000${count}`,
        kind: /flux/.test(name) ? 'capture' : /bag/.test(name) ? 'bag' : 'image',
      });
      return { ok: true, status: 200, json: async () => ({ id }) };
    }
    return { ok: true, status: 200, json: async () => states.get(path) };
  }) as unknown as typeof fetch;
  return asked;
}

const file = (name: string, text = 'bytes') => {
  const bytes = new TextEncoder().encode(text);
  const made = new File([bytes], name);
  Object.defineProperty(made, 'text', { value: async () => text });
  Object.defineProperty(made, 'slice', {
    value: (from: number, to: number) => ({
      arrayBuffer: async () => bytes.slice(from, to).buffer,
    }),
  });
  return made;
};
const outcomes = (told: Intake[]) =>
  told.filter(({ outcome }) => outcome !== 'under-way').map(({ name, outcome }) => [name, outcome]);

test('each is sent under its name, and told by its code', async () => {
  const asked = serve();
  const told: Intake[] = [];
  const codes = await takeInFiles([file('a.img'), file('b.flux')], NOBODY, (each) =>
    told.push(each),
  );
  expect(codes).toEqual(['TST-0001', 'TST-0002']);
  expect(asked.map(({ path }) => path)).toEqual([
    '/api/intake?name=a.img',
    '/api/intake?name=b.flux',
  ]);
  const ends = told.filter(({ outcome }) => outcome === 'taken-in');
  expect(ends.map(({ text }) => /TST-000\d/.exec(text)![0])).toEqual(codes);
});

test('a bag is several media: it is told in the words of whoever took it in', async () => {
  serve();
  const told: Intake[] = [];
  expect(await takeInFiles([file('bag.tar')], NOBODY, (each) => told.push(each))).toEqual([]);
  expect(told.at(-1)).toEqual({ name: 'bag.tar', outcome: 'taken-in', text: 'Taken in.' });
});

test('one that is refused says why, and the others go on', async () => {
  serve();
  const told: Intake[] = [];
  const codes = await takeInFiles([file('bad.img'), file('b.img')], NOBODY, (each) =>
    told.push(each),
  );
  expect(codes).toEqual(['TST-0002']);
  expect(outcomes(told)).toEqual([
    ['bad.img', 'refused'],
    ['b.img', 'taken-in'],
  ]);
  expect(told.find(({ outcome }) => outcome === 'refused')!.text).toBe(
    'It is no image of anything.',
  );
});

test('a server that is away is said of each', async () => {
  globalThis.fetch = (async () => {
    throw new TypeError('fetch failed');
  }) as typeof fetch;
  const told: Intake[] = [];
  await expect(takeInFiles([file('a.img')], NOBODY, (each) => told.push(each))).resolves.toEqual(
    [],
  );
  expect(outcomes(told)).toEqual([['a.img', 'refused']]);
  expect(told.at(-1)!.text).not.toMatch(/TypeError/);
});

test('a sheet that belongs to no image is sent as a file of its own', async () => {
  const asked = serve();
  await takeInFiles([file('lonely.cue', 'FILE "x.bin" BINARY')], NOBODY, () => undefined);
  expect(asked.map(({ path }) => path)).toEqual(['/api/intake?name=lonely.cue']);
});

test('a folder is a set in the order of its numbers, and stops between two files', async () => {
  const asked = serve();
  const told: Intake[] = [];
  const stop = new AbortController();
  const head = '\u00eb\u003c\u0090\u0000\u0000\u0000\u0001\u0002\u0003';
  const pathed = ['logs/disk 10.img', 'logs/disk 2.img', 'logs/disk 3.img'].map((path) => ({
    path,
    file: file(path.split('/').pop()!, head),
  }));
  const progress: [number, number][] = [];
  await takeInFolder(pathed, KEEPER, {
    tell: (each) => told.push(each),
    progress: (done, of) => {
      progress.push([done, of]);
      if (done === 2) stop.abort();
    },
    signal: stop.signal,
  });
  expect(
    asked.map(({ path }) => Object.fromEntries(new URLSearchParams(path.split('?')[1]))),
  ).toEqual([
    { name: 'logs/disk 2.img', ...KEEPER, set: 'logs', number: '1' },
    { name: 'logs/disk 3.img', ...KEEPER, set: 'logs', number: '2' },
  ]);
  expect(progress).toEqual([
    [1, 3],
    [2, 3],
  ]);
  expect(outcomes(told).at(-1)![1]).toBe('refused');
});

test('a folder that holds far too much is not begun', async () => {
  const asked = serve();
  const told: Intake[] = [];
  const many = Array.from({ length: 5001 }, (_, i) => ({ path: `x/${i}.img`, file: file('x') }));
  await takeInFolder(many, NOBODY, {
    tell: (each) => told.push(each),
    progress: () => undefined,
    signal: new AbortController().signal,
  });
  expect([asked, outcomes(told).map(([, outcome]) => outcome)]).toEqual([[], ['refused']]);
});
