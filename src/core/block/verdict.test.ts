/** What an empty-looking device is. */
import { tell } from '@/messages/tell';
import { memorySource } from '../bits/byte-source';
import { seededRandom } from '../bits/random';
import { findingOf, type VerdictInput } from './verdict';

const SIZE = 512 * 4096;
const nothing: VerdictInput = { inUse: [], files: 0, unread: [] };
const filled = (value: number) => new Uint8Array(SIZE).fill(value);

/** Two entries of a directory, written by hand after ECMA-107, clause 11. */
function directory(): Uint8Array {
  const block = new Uint8Array(512);
  for (const [i, name] of ['LETTER  TXT', 'DUES    CSV', 'OLD     DOC'].entries()) {
    block.set(new TextEncoder().encode(name), i * 32);
    block[i * 32 + 11] = 0x20;
    block[i * 32 + 26] = i + 2;
  }
  block[64] = 0xe5;
  return block;
}

test.each([
  ['never-written', 0xf6],
  ['never-written', 0xe5],
  ['wiped', 0],
  ['wiped', 0xff],
])('%s: every block is %i', async (verdict, value) => {
  expect(await findingOf(memorySource(filled(value)), nothing)).toMatchObject({
    verdict,
    traced: 0,
    fills: [{ value, blocks: 4096 }],
  });
});

test('an old directory, text and the beginnings of files tell what it was formatted over', async () => {
  const bytes = filled(0xf6);
  bytes.fill(0, 0, 512 * 40);
  bytes.set(directory(), 512 * 700);
  bytes.set(
    new TextEncoder().encode('The fog signal was sounded at four in the morning. '.repeat(20)),
    512 * 900,
  );
  bytes.set([0xff, 0xd8, 0xff, 0xe0, 0, 16], 512 * 1200);
  const finding = await findingOf(memorySource(bytes), nothing);
  expect(finding.verdict).toBe('written-over');
  expect(finding.traces.map(({ kind, offset }) => [kind, offset / 512])).toEqual([
    ['directory', 700],
    ['text', 900],
    ['file', 1200],
  ]);
  expect(tell(finding.traces[0]!.what)).toBe('a directory: LETTER.TXT, DUES.CSV, ?LD.DOC');
});

test('noise from end to end was put there; the tables of an empty volume were not', async () => {
  const random = seededRandom('noise');
  const noise = Uint8Array.from({ length: SIZE }, () => random.below(256));
  expect((await findingOf(memorySource(noise), nothing)).verdict).toBe('wiped');
  const formatted = filled(0xf6);
  formatted.set(noise.subarray(0, 5120));
  expect(
    (await findingOf(memorySource(formatted), { ...nothing, inUse: [{ offset: 0, length: 5120 }] }))
      .verdict,
  ).toBe('never-written');
});

test('with files it is in use, and what could not be read says nothing', async () => {
  expect((await findingOf(memorySource(filled(1)), { ...nothing, files: 3 })).verdict).toBe(
    'in-use',
  );
  expect(
    (
      await findingOf(memorySource(filled(0)), {
        ...nothing,
        unread: [{ offset: 0, length: SIZE - 512 }],
      })
    ).verdict,
  ).toBe('unreadable');
  expect((await findingOf(memorySource(new Uint8Array(0)), nothing)).verdict).toBe('unreadable');
});
