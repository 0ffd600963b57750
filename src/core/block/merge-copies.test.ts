/** Damaged copies made into one. */
import { memorySource } from '../bits/byte-source';
import { seededRandom } from '../bits/random';
import { ExtentMap, type BlockKnowledge } from './extent-map';
import { mergeCopies, mergedSource } from './merge-copies';

const BYTES = 64;
const BLOCKS = 300;
const random = seededRandom('copies');
const original = Uint8Array.from({ length: BYTES * BLOCKS }, () => random.below(256));
const firm: BlockKnowledge = { grade: 'firm', tries: 1, group: 0, pace: 0 };
const lost: BlockKnowledge = { grade: 'lost', tries: 5, group: 0, pace: 0 };

/**
 * A copy of the first `blocks` blocks in which some are lost, and some were read wrong without
 * being noticed.
 */
function copyOf(missing: [number, number][], wrong: number[] = [], blocks = BLOCKS) {
  const bytes = original.slice(0, blocks * BYTES);
  const map = new ExtentMap(blocks);
  map.update(0, blocks, () => firm);
  for (const [from, to] of missing) {
    map.update(from, to, () => lost);
    bytes.fill(0, from * BYTES, to * BYTES);
  }
  for (const block of wrong) bytes[block * BYTES + 7]! ^= 0x10;
  return { source: memorySource(bytes), map };
}

test('what one copy lost comes from the other, and what both lost is lost', async () => {
  const copies = [
    copyOf([
      [10, 40],
      [200, 230],
    ]),
    copyOf(
      [
        [30, 60],
        [100, 101],
      ],
      [],
      250,
    ),
  ];
  const merged = await mergeCopies(copies, BYTES);
  expect(merged.map.tally()).toMatchObject({ firm: BLOCKS - 10, lost: 10, unread: 0 });
  expect(merged.differing).toEqual([]);
  const bytes = await mergedSource(copies, merged, BYTES).read(0, BYTES * BLOCKS);
  const wanted = original.slice();
  wanted.fill(0, 30 * BYTES, 40 * BYTES);
  expect(Buffer.compare(bytes, wanted)).toBe(0);
  expect(
    Buffer.compare(
      await mergedSource(copies, merged, BYTES).read(700, 9000),
      wanted.subarray(700, 9700),
    ),
  ).toBe(0);
});

test('two that differ leave it open; of three, two decide', async () => {
  const two = await mergeCopies([copyOf([], [50, 51]), copyOf([])], BYTES);
  expect(two.differing).toEqual([{ from: 50, to: 52 }]);
  expect(two.map.tally()).toMatchObject({ firm: BLOCKS - 2, doubtful: 2 });
  const copies = [copyOf([], [50, 51]), copyOf([], [70]), copyOf([])];
  const three = await mergeCopies(copies, BYTES);
  expect(three.map.tally()).toMatchObject({ firm: BLOCKS - 2, mended: 2, doubtful: 0 });
  expect(three.differing).toEqual([
    { from: 50, to: 52 },
    { from: 70, to: 71 },
  ]);
  expect(
    Buffer.compare(await mergedSource(copies, three, BYTES).read(0, BYTES * BLOCKS), original),
  ).toBe(0);
});

test('copies that have next to nothing in common are not copies of one thing', async () => {
  const other = Uint8Array.from({ length: BYTES * 5000 }, (_, i) => (i * 7) & 0xff);
  const own = Uint8Array.from(other, (byte) => byte ^ 0x55);
  const map = () => {
    const known = new ExtentMap(5000);
    known.update(0, 5000, () => firm);
    return known;
  };
  expect(
    (
      await mergeCopies(
        [
          { source: memorySource(own), map: map() },
          { source: memorySource(other), map: map() },
        ],
        BYTES,
      )
    ).another,
  ).toBe(true);
  expect((await mergeCopies([copyOf([], [1, 2, 3]), copyOf([])], BYTES)).another).toBe(false);
});

test('nothing, and one alone', async () => {
  expect((await mergeCopies([], BYTES)).map.blocks).toBe(0);
  const alone = copyOf([[0, 3]]);
  expect((await mergeCopies([alone], BYTES)).supply).toEqual([{ from: 3, to: BLOCKS, copy: 0 }]);
});
