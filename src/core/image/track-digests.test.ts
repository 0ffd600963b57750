import { nodeDigester } from '@/node/digester';
import { bytesOf, tracksOfImage } from '../layout/layout';
import { SHIPPED_LAYOUTS } from '../layout/shipped';
import type { TrackSector } from '../reading/track-sector';
import { digestOfTrack, digestsOfImage } from './track-digests';
import { sha256Hex } from '../../../tests/support/vectors';

test.each(
  ['mfm-35-9x512', 'mfm-35-5x1024+512', 'fm-8-26x128'].flatMap((id) =>
    SHIPPED_LAYOUTS.filter((layout) => layout.id === id),
  ),
)('tracks of $id: from the image and from what a drive read alike', (layout) => {
  const image = Uint8Array.from({ length: bytesOf(layout) }, (_, i) => (i * 13 + (i >> 9)) & 0xff);
  const tracks = tracksOfImage(layout);
  const [blank, hurt, read] = [tracks[3]!, tracks[5]!, tracks[7]!];
  image.fill(
    0xe5,
    blank.offset,
    blank.offset + blank.places.reduce((sum, { bytes }) => sum + bytes, 0),
  );
  const digests = digestsOfImage(
    layout,
    image,
    [{ offset: hurt.offset + 10, length: 1 }],
    nodeDigester,
  );
  const of = ({ cylinder, head }: { cylinder: number; head: number }) =>
    digests.find((each) => each.cylinder === cylinder && each.head === head)?.digest;
  expect([digests.length, of(blank), of(hurt)]).toEqual([tracks.length - 2, undefined, undefined]);
  const end = read.places[read.places.length - 1]!;
  expect(of(read)).toBe(
    sha256Hex(image.subarray(read.offset, end.offset + end.bytes)).slice(0, 32),
  );
  // Sectors come in the order of their angle, not of their numbers.
  const sectors = [...read.places].reverse().map(
    ({ r, bytes, offset }) =>
      ({
        r,
        size: bytes,
        grade: 'firm',
        data: image.subarray(offset, offset + bytes),
      }) as TrackSector,
  );
  expect(digestOfTrack(read, sectors, nodeDigester)).toBe(of(read));
  expect(
    digestOfTrack(
      read,
      sectors.map((sector, i) => (i === 2 ? { ...sector, grade: 'doubtful' as const } : sector)),
      nodeDigester,
    ),
  ).toBeNull();
  expect(digestOfTrack(read, sectors.slice(1), nodeDigester)).toBeNull();
});
