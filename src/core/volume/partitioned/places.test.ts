/** Places by cylinder, head and sector, as a table has them, beside numbers. */
import fc from 'fast-check';
import { loadVector } from '../../../../tests/support/vectors';
import { memorySource } from '../../bits/byte-source';
import { readPartitions } from './partitions';
import { elsewhereByPlaces } from './places';

/** Three bytes as a table has them, for a geometry. */
function bytesOf(sector: number, heads: number, sectors: number): number {
  const cylinder = Math.floor(sector / (heads * sectors));
  const head = Math.floor(sector / sectors) % heads;
  if (cylinder > 1023) return 0xffffff;
  const low = (sector % sectors) + 1;
  return head | ((low | ((cylinder >> 2) & 0xc0)) << 8) | ((cylinder & 0xff) << 16);
}

const record = (number: number, start: number, length: number, heads: number, sectors: number) => ({
  number,
  start,
  sectors: length,
  first: bytesOf(start, heads, sectors),
  last: bytesOf(start + length - 1, heads, sectors),
});

test('places of one geometry, whichever it is, are where the numbers are', () => {
  const part = fc.tuple(fc.integer({ min: 1, max: 900_000 }), fc.integer({ min: 1, max: 400_000 }));
  fc.assert(
    fc.property(
      fc.array(part, { minLength: 1, maxLength: 4 }),
      fc.integer({ min: 2, max: 255 }),
      fc.integer({ min: 8, max: 63 }),
      (parts, heads, sectors) => {
        const records = parts.map(([start, length], i) =>
          record(i + 1, start, length, heads, sectors),
        );
        expect(elsewhereByPlaces(records)).toEqual([]);
      },
    ),
    { numRuns: 40 },
  );
});

test('the one that fits no geometry that the others fit is named', () => {
  const records = [1, 2, 3].map((number) => record(number, number * 4000 + 17, 3000, 4, 17));
  records[1]!.first = bytesOf(8017 + 4 * 17, 4, 17);
  expect(elsewhereByPlaces(records)).toEqual([2]);
});

test('a table without places, or of a disk larger than they reach, says nothing of them', () => {
  const nowhere = { number: 1, start: 63, sectors: 1000, first: 0, last: 0 };
  expect(elsewhereByPlaces([nowhere])).toEqual([]);
  expect(elsewhereByPlaces([{ ...nowhere, first: 0xffffff, last: 0xfffffe }])).toEqual([]);
  expect(elsewhereByPlaces([])).toEqual([]);
});

test('told of a disk, which is read by its numbers', async () => {
  const image = loadVector('volumes/mbr-small.img').slice();
  const sound = (await readPartitions(memorySource(image)))!;
  expect(sound.problems).toEqual([]);
  // Another cylinder in the second record.
  image[0x1be + 16 + 3]! ^= 0x21;
  const odd = (await readPartitions(memorySource(image)))!;
  expect(odd.partitions).toEqual(sound.partitions);
  expect(odd.problems).toMatchObject([
    {
      kind: 'partition-damaged',
      offset: 0x1be + 16,
      said: { code: 'volume.partitionIsElsewhere' },
    },
  ]);
});
