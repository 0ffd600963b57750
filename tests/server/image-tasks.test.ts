/** Work on whole images beside the requests: answers, failures, more at once than there are threads. */
import { memorySource } from '@/core/bits/byte-source';
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
