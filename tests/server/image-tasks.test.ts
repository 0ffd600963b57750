/** Work on whole images beside the requests: answers, failures, more at once than there are threads. */
import type { Edit } from '@/core/assembly/edits';
import { joinedSource, memorySource } from '@/core/bits/byte-source';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { makeBlank } from '@/core/identify/make-blank';
import { searchPattern } from '@/core/scan/rules';
import { runImageTask } from '@/server/platform/threads/image-tasks';

const text = 'the lamp was trimmed';
const image = (at: number) => {
  const bytes = new Uint8Array(3 << 20);
  bytes.set(new TextEncoder().encode(text), at);
  return bytes;
};

test('many at once are all answered, each from its own image', async () => {
  const places = [0, 1, 262_140, 1_048_570, 2_000_000, 3_000_000];
  const found = await Promise.all(
    places.map((at) =>
      runImageTask(memorySource(image(at)), 'find', { pattern: searchPattern('"lamp"')! }),
    ),
  );
  expect(found.map(({ matches }) => matches.map(({ offset }) => offset))).toEqual(
    places.map((at) => [at + text.indexOf('lamp')]),
  );
});

test('strings come with their places', async () => {
  const { strings, more } = await runImageTask(memorySource(image(500_000)), 'strings', {
    least: 8,
    limit: 10,
  });
  expect([strings, more]).toEqual([[{ offset: 500_000, text }], false]);
});

test('an image that can not be read fails its own task, and the next ones are answered', async () => {
  const broken = { size: 1 << 20, read: () => Promise.reject(new Error('the chunk is missing')) };
  await expect(runImageTask(broken, 'strings', { least: 8, limit: 10 })).rejects.toThrow(
    'the chunk is missing',
  );
  const { strings } = await runImageTask(memorySource(image(7)), 'strings', { least: 8, limit: 1 });
  expect(strings).toHaveLength(1);
});

test('a volume is listed though all who search are busy', async () => {
  // Two that never get their bytes, until they are let go.
  const letGo: (() => void)[] = [];
  const stuck = () =>
    runImageTask(
      {
        size: 1 << 20,
        read: () =>
          new Promise<Uint8Array>((_, reject) => letGo.push(() => reject(new Error('let go')))),
      },
      'strings',
      { least: 8, limit: 10 },
    );
  // Looked after from the start: the one that ends first may end before it is asked for.
  const searches = Promise.allSettled([stuck(), stuck()]);
  const blank = makeBlank(
    BLANK_KINDS.find(({ id }) => id === 'fat12-720')!,
    'BUSY',
  );
  const { label } = await runImageTask(memorySource(blank), 'list', {
    withDigests: false,
    kind: null,
  });
  expect(label).toBe('BUSY');
  while (letGo.length < 2) await new Promise((resolve) => setImmediate(resolve));
  for (const go of letGo) go();
  const reasons = (await searches).map((end) => (end as PromiseRejectedResult).reason as Error);
  expect(reasons.map(({ message }) => message)).toEqual(['let go', 'let go']);
});

const bytesOf = (...content: number[]) => Uint8Array.from(content);
const put = (path: string, bytes: number): Edit => ({
  kind: 'put',
  path,
  source: path,
  bytes,
  from: 'a test',
});

test('edits are made on what lies before their contents, each with its own', async () => {
  const blank = BLANK_KINDS.find(({ id }) => id === 'fat12-720')!;
  const base = makeBlank(blank, 'LAMPS');
  const contents = [bytesOf(1, 2, 3), bytesOf(), bytesOf(4, 5)];
  const source = joinedSource([base, ...contents].map(memorySource));
  const edits = [put('ONE.BIN', 3), put('NONE.BIN', 0), put('TWO.BIN', 2)];
  const question = { baseBytes: base.length, kind: blank.id };
  const made = await runImageTask(source, 'assemble', { ...question, edits });
  if ('refused' in made) throw new Error(made.refused);
  const { label, entries } = await runImageTask(memorySource(made), 'list', {
    withDigests: true,
    kind: null,
  });
  expect(label).toBe('LAMPS');
  // SHA-256 of 01 02 03, of nothing, and of 04 05, as sha256sum has them.
  expect(entries.map(({ path, digest }) => [path, digest!.slice(0, 12)])).toEqual([
    ['ONE.BIN', '039058c6f2c0'],
    ['NONE.BIN', 'e3b0c44298fc'],
    ['TWO.BIN', '2fa1b377bf67'],
  ]);
  const twice = [...edits, { kind: 'rename', path: 'ONE.BIN', name: 'TWO.BIN' } as const];
  expect(await runImageTask(source, 'assemble', { ...question, edits: twice })).toMatchObject({
    refused: 'exists',
    said: { code: 'volume.thereIsAAlready' },
  });
});
