/**
 * Images kept as files on other volumes: vectors inside a FAT12 disk, twice over, and in pieces.
 */
import fc from 'fast-check';
import { buildFat12 } from '../../../demo/fat-builder';
import { loadExpectation, loadVector, sha256Hex } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import { SHIPPED_LAYOUTS } from '../layout/shipped';
import { doubtsIn, extentSource, placesOf } from '../volume/extent-source';
import { HOLE, type Extent } from '../volume/volume';
import { identifyVolumes } from './identify';
import { volumesInside } from './inside';

const layout = (id: string) => SHIPPED_LAYOUTS.find((each) => each.id === id)!;
const file = (path: string, bytes: Uint8Array) => ({
  path,
  bytes,
  modified: '1990-02-03T04:05:06',
});

test('images inside are opened, with their files where they lie in the outermost image', async () => {
  const d64 = loadVector('volumes/d64-plain.d64');
  const small = buildFat12(layout('mfm-35-9x512'), 'INNER', [
    file('DISKS/TIDES.D64', d64),
    file('NOTE.TXT', new TextEncoder().encode('about it')),
  ]);
  const large = buildFat12(layout('mfm-35-18x512'), 'OUTER', [
    file('INNER.IMG', small),
    file('CHART.DO', loadVector('volumes/catalogue16-plain.do')),
    file(
      'NOISE.BIN',
      Uint8Array.from({ length: 100_000 }, (_, i) => (i * 7919) & 0xff),
    ),
  ]);
  const source = memorySource(large);
  const [outer] = (await identifyVolumes(source)).volumes;
  const inner = [];
  for await (const each of volumesInside(source, outer!.volume)) inner.push(each);
  expect(inner.map(({ inside, volume }) => [inside, volume.filesystem])).toEqual([
    ['INNER.IMG', 'fat12'],
    ['INNER.IMG/DISKS/TIDES.D64', 'd64'],
    ['CHART.DO', 'catalogue16'],
  ]);
  for (const [at, name] of [
    [1, 'd64-plain-d64'],
    [2, 'catalogue16-plain-do'],
  ] as const) {
    const { files } = loadExpectation<{
      files: { path: string; sha256: string; deleted?: boolean; pathExact?: boolean }[];
    }>(`volumes/${name}`);
    for (const { path, sha256 } of files.filter((each) => !each.deleted)) {
      const entry = inner[at]!.volume.entries.find((each) => each.path === path)!;
      expect(sha256Hex(await inner[at]!.volume.read(entry))).toBe(sha256);
    }
  }
});

test('a file in pieces reads as one, and a place in it is found again in what holds it', () =>
  fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ length: fc.integer({ min: 1, max: 40 }), hole: fc.boolean() }), {
        minLength: 1,
        maxLength: 12,
      }),
      fc.integer({ min: 0, max: 500 }),
      fc.integer({ min: 0, max: 200 }),
      async (pieces, from, length) => {
        const holder = Uint8Array.from({ length: 1000 }, (_, i) => (i * 31) & 0xff);
        // Pieces from the end of the holder towards its start, so that order matters.
        let place = 1000;
        const extents: Extent[] = pieces.map((piece) => ({
          offset: piece.hole ? HOLE : (place -= piece.length + 3),
          length: piece.length,
        }));
        const whole = extents.flatMap(({ offset, length: count }) =>
          offset < 0
            ? new Array<number>(count).fill(0)
            : [...holder.subarray(offset, offset + count)],
        );
        const source = extentSource(memorySource(holder), { extents, bytes: whole.length });
        expect([...(await source.read(from, length))]).toEqual(whole.slice(from, from + length));
        const back = placesOf(extents, { offset: from, length }).flatMap(
          ({ offset, length: count }) =>
            offset < 0
              ? new Array<number>(count).fill(0)
              : [...holder.subarray(offset, offset + count)],
        );
        expect(back).toEqual(whole.slice(from, from + length));
      },
    ),
  ));

test('bytes in doubt are placed in the file that holds them', () => {
  const extents = [
    { offset: 1024, length: 512 },
    { offset: HOLE, length: 512 },
    { offset: 0, length: 700 },
  ];
  expect(
    doubtsIn(extents, 10_000, [
      { offset: 10_000, length: 256 },
      { offset: 11_280, length: 512 },
      { offset: 20_000, length: 512 },
    ]),
  ).toEqual([
    { offset: 256, length: 256 },
    { offset: 1024, length: 256 },
  ]);
});

test('an image that is said to hold itself ends', async () => {
  // A volume whose only file is the whole of it: opened three deep, and no further.
  const bytes = loadVector('volumes/d64-plain.d64');
  const source = memorySource(bytes);
  const self = {
    path: 'SELF',
    recordedName: 'SELF',
    kind: 'file' as const,
    bytes: bytes.length,
    modified: null,
    locked: false,
    deleted: false,
    recoverable: null,
    damaged: false,
    extents: [{ offset: 0, length: bytes.length }],
  };
  const found = [];
  for await (const { inside } of volumesInside(source, {
    entries: Array.from({ length: 200 }, (_, i) => ({ ...self, path: `SELF${i}` })),
  }))
    found.push(inside);
  expect(found).toHaveLength(64);
});
