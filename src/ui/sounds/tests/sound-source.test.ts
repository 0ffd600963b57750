/** Sounds fetched once and made numbers: from their files, at their rate, with what can't be told. */
import { FIRST_SETTINGS } from '@/core/sound/raw-sound';
import {
  MOST_RAW_BYTES,
  heardAsSet,
  heardFile,
  heardSample,
  type ListedSample,
} from '../sound-source';

let asked: string[];
/** Answers each file with its bytes; anything else is refused. */
function answer(files: Record<string, Uint8Array>, error = 'FALSE NEWS'): void {
  asked = [];
  globalThis.fetch = (async (path: string) => {
    asked.push(path);
    const bytes = files[path];
    return {
      ok: bytes !== undefined,
      statusText: 'Not Found',
      arrayBuffer: async () => bytes!.slice().buffer,
      json: async () => ({ error }),
    };
  }) as unknown as typeof fetch;
}

let next = 0;
/** A sample in a file of its own: what was fetched once is kept. */
function sampleOf(values: Int16Array, over: Partial<ListedSample> = {}) {
  const file = ++next;
  const bytes = new Uint8Array(150 + 2 * values.length);
  bytes.set(new Uint8Array(values.buffer), 150);
  const sample = {
    name: 'HORN',
    file,
    rateHz: 22_050,
    headerBytes: 150,
    frames: values.length,
    channels: 1,
    bits: 16,
    loops: [],
    start: 0,
    end: values.length - 1,
    doubts: [],
    ...over,
  } as unknown as ListedSample;
  return { sample, path: `/api/files/${file}?listen`, bytes };
}

test('a sample is the frames behind its header, as numbers from −1 to 1', async () => {
  const { sample, path, bytes } = sampleOf(Int16Array.of(0, 16_384, -32_768));
  answer({ [path]: bytes });
  const { values, rateHz, loop } = await heardSample(sample);
  expect([[...values], rateHz, loop]).toEqual([[0, 0.5, -1], 22_050, null]);
});

test('of its loops that is heard which is held; ends beyond the frames are drawn in', async () => {
  const loops = [
    { startFrame: 0, endFrame: 2, hold: false },
    { startFrame: 1, endFrame: 3, hold: true },
  ] as unknown as ListedSample['loops'];
  const { sample, path, bytes } = sampleOf(new Int16Array(4), { loops, start: 9, end: 99 });
  answer({ [path]: bytes });
  const { loop, start, end } = await heardSample(sample);
  expect([loop, start, end]).toEqual([loops[1], 0, 3]);
});

test('it is fetched once, again at another rate, and again where it could not be had', async () => {
  const { sample, path, bytes } = sampleOf(new Int16Array(4));
  answer({});
  await expect(heardSample(sample)).rejects.toThrow('FALSE NEWS');
  answer({ [path]: bytes });
  const [first, second] = [await heardSample(sample), await heardSample(sample)];
  expect([first === second, asked.length]).toEqual([true, 1]);
  const other = await heardSample({ ...sample, rateHz: 8000 });
  expect([other.rateHz, asked.length]).toEqual([8000, 2]);
});

test('of very many the oldest are fetched anew', async () => {
  const all = Array.from({ length: 30 }, () => sampleOf(new Int16Array(1)));
  answer(Object.fromEntries(all.map(({ path, bytes }) => [path, bytes])));
  for (const { sample } of all) await heardSample(sample);
  await heardSample(all.at(-1)!.sample);
  expect(asked).toHaveLength(30);
  await heardSample(all[0]!.sample);
  expect(asked).toHaveLength(31);
});

test('a file of sound is mixed to one channel and called by its name', async () => {
  // AU, 16 bits, two channels: half and nothing.
  const au = Uint8Array.of(
    ...[0x2e, 0x73, 0x6e, 0x64, 0, 0, 0, 24, 0, 0, 0, 4],
    ...[0, 0, 0, 3, 0, 0, 0x1f, 0x40, 0, 0, 0, 2, 0x40, 0, 0, 0],
  );
  answer({ '/api/files/9001?listen': au });
  const { name, values, rateHz, loops } = await heardFile(9001, 'SOUNDS/TIDE.AU');
  expect([name, [...values], rateHz, loops]).toEqual(['TIDE.AU', [0.25], 8000, []]);
});

test('what is no sound, and what is none that is read, is told', async () => {
  answer({ '/api/files/9002?listen': Uint8Array.of(1, 2, 3), '/api/files/9003?listen': au23() });
  await expect(heardFile(9002, 'A.TXT')).rejects.toThrow();
  await expect(heardFile(9003, 'B.AU')).rejects.toThrow('23');
});

/** AU of a packed coding that is named and not played. */
const au23 = () =>
  Uint8Array.of(
    ...[0x2e, 0x73, 0x6e, 0x64, 0, 0, 0, 24, 0, 0, 0, 4],
    ...[0, 0, 0, 23, 0, 0, 0x1f, 0x40, 0, 0, 0, 1, 0, 0, 0, 0],
  );

test('of many bytes that are heard as they are set, the first are made numbers', () => {
  const settings = { ...FIRST_SETTINGS, skip: 3 };
  const of = (length: number) => heardAsSet(new Uint8Array(length), settings, 'x').values.length;
  expect([of(2), of(10), of(MOST_RAW_BYTES + 10)]).toEqual([0, 7, MOST_RAW_BYTES]);
});
