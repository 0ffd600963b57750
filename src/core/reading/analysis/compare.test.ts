/** Differences between two readings, and several captures of one disk taken as one. */
import { loadExpectation, loadVector, sha256Hex } from '../../../../tests/support/vectors';
import { readContainer } from '@/core/flux/container-reader';
import { SHIPPED_LAYOUTS } from '@/core/layout/shipped';
import { compareSectors, tallyDifferences, type ComparedSector } from './compare';
import { allSectors, decodeCapture } from '../decode/decode-capture';
import { joinCaptures } from '../decode/join-captures';

const sector = (r: number, grade: ComparedSector['grade'], ...data: number[]): ComparedSector => ({
  cylinder: 0,
  head: 0,
  r,
  size: 4,
  grade,
  data: data.length > 0 ? Uint8Array.from(data) : null,
});

test('each way in which two sectors can stand to one another', () => {
  const all = compareSectors(
    [
      sector(1, 'firm', 1, 2, 3, 4),
      sector(2, 'firm', 1, 2, 3, 4),
      sector(3, 'mended', 9, 9, 9, 9),
      sector(4, 'doubtful', 1, 1, 1, 1),
      sector(5, 'lost'),
      sector(7, 'unread'),
    ],
    [
      sector(1, 'mended', 1, 2, 3, 4),
      sector(2, 'firm', 1, 0, 3, 0),
      sector(3, 'doubtful', 9, 9, 9, 9),
      sector(4, 'firm', 1, 1, 1, 2),
      sector(6, 'firm', 0, 0, 0, 0),
      sector(7, 'unread'),
    ],
  );
  expect(all.map(({ r, difference }) => [r, difference])).toEqual([
    [1, 'same'],
    [2, 'differ'],
    [3, 'first-only'],
    [4, 'second-only'],
    [5, 'neither'],
    [6, 'second-only'],
  ]);
  expect(all[1]).toMatchObject({ firstByte: 1, bytes: 2 });
  expect(tallyDifferences(all)).toEqual({
    same: 1,
    differ: 1,
    'first-only': 1,
    'second-only': 2,
    neither: 1,
  });
});

test('two captures of one disk settle what neither has alone; what only the second read is mended', async () => {
  const container = readContainer(loadVector('flux/light-mfm-35-9x512.fsflux'), null);
  const { header, tracks } = container;
  const [first, second] = [
    tracks.filter(({ head }) => head === 0),
    tracks.filter(({ cylinder, head }) => !(cylinder === 0 && head === 0)),
  ];
  const joined = joinCaptures([
    { header, tracks: first },
    { header, tracks: second },
  ]);
  expect(joined.readings.map(({ pass }) => pass)).toEqual([
    ...first.map(() => 0),
    ...second.map(() => 1),
  ]);
  const sectors = allSectors(
    await decodeCapture(joined.header, joined.readings, { layouts: SHIPPED_LAYOUTS }),
  ).filter(({ cylinder }) => cylinder < 2);
  const expected = loadExpectation<{
    sectors: { cylinder: number; head: number; r: number; grade: string; sha256?: string }[];
  }>('flux/light-mfm-35-9x512').sectors;
  for (const want of expected.filter(({ grade }) => grade === 'good')) {
    const got = sectors.find(
      ({ cylinder, head, r, data }) =>
        cylinder === want.cylinder &&
        head === want.head &&
        r === want.r &&
        data &&
        sha256Hex(data) === want.sha256,
    );
    expect([want.cylinder, want.head, want.r, got?.grade]).toEqual([
      want.cylinder,
      want.head,
      want.r,
      'firm',
    ]);
  }
});

test("a capture at another tick rate is counted at the first one's", async () => {
  const { header, tracks } = readContainer(loadVector('flux/clean-mfm-35-9x512.fsflux'), null);
  const joined = joinCaptures([
    { header: { ...header, tickHz: 48_000_000 }, tracks: [] },
    { header, tracks },
  ]);
  expect(joined.readings[0]!.index[1]).toBe(2 * tracks[0]!.index[1]!);
  const sectors = allSectors(
    await decodeCapture(joined.header, joined.readings, { layouts: SHIPPED_LAYOUTS }),
  ).filter(({ grade }) => grade !== 'unread');
  expect(sectors.map(({ grade }) => grade)).toEqual(Array(36).fill('firm'));
});
