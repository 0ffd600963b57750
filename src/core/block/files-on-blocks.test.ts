/** Which files lie on which blocks, of a plain device and of a disc with tracks of sound. */
import { filesByBlock, filesOn } from './files-on-blocks';

const file = (path: string, ...extents: [offset: number, length: number][]) => ({
  path,
  kind: 'file' as const,
  deleted: false,
  extents: extents.map(([offset, length]) => ({ offset, length })),
});

test('files of a partition by its blocks: pieces, holes, and one block with two files', () => {
  const placed = filesByBlock({ blockBytes: 512, tracks: [] }, [
    {
      offset: 1024,
      partition: 2,
      entries: [
        file('A', [0, 700], [-1, 512], [5000, 10]),
        file('B', [900, 100]),
        { ...file('OLD', [0, 512]), deleted: true },
        { ...file('DIR', [0, 512]), kind: 'directory' },
      ],
    },
  ]);
  expect(placed).toEqual([
    { path: '2/A', from: 2, to: 4 },
    { path: '2/B', from: 3, to: 4 },
    { path: '2/A', from: 11, to: 12 },
  ]);
  expect([
    filesOn(placed, 0, 2),
    filesOn(placed, 3, 4),
    filesOn(placed, 0, 99),
    filesOn(placed, 4, 11),
  ]).toEqual([[], ['2/A', '2/B'], ['2/A', '2/B'], []]);
});

test('of a raw disc the files are counted from its first track of data, and sound is named', () => {
  const tracks = [
    { number: 1, type: 'AUDIO' as const, startLba: 0, fileSector: 0, sectors: 100 },
    { number: 2, type: 'MODE1/2352' as const, startLba: 100, fileSector: 100, sectors: 50 },
  ];
  const placed = filesByBlock({ blockBytes: 2352, tracks }, [
    { offset: 0, partition: null, entries: [file('A', [2048 * 20, 3000])] },
  ]);
  expect([
    filesOn(placed, 99, 100),
    filesOn(placed, 120, 121),
    filesOn(placed, 121, 122),
    filesOn(placed, 122, 150),
  ]).toEqual([['track 1, sound'], ['A'], ['A'], []]);
});

test('a file that lies in two tracks of data lies on blocks of both', () => {
  const track = (number: number, fileSector: number, imageSector: number) => ({
    number,
    type: 'MODE1/2352' as const,
    startLba: fileSector,
    fileSector,
    sectors: 50,
    imageSector,
  });
  const placed = filesByBlock(
    { blockBytes: 2352, tracks: [track(1, 0, 0), track(2, 50, 11_400)] },
    [
      {
        offset: 0,
        partition: null,
        entries: [file('A', [2048 * 48, 2048]), file('B', [2048 * 11_410, 4096])],
      },
    ],
  );
  expect(placed).toEqual([
    { path: 'A', from: 48, to: 49 },
    { path: 'B', from: 60, to: 62 },
  ]);
});
