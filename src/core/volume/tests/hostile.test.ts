/**
 * Volumes of every kind with bytes overwritten, cut off and made up: no hang, no exception, no
 * unsafe path, no read beyond the source.
 */
import fc from 'fast-check';
import { loadVector } from '../../../../tests/support/vectors';
import { seededRandom } from '../../bits/random';
import { memorySource, type ByteSource } from '../../bits/byte-source';
import { candidatesOf, identifyVolumes } from '../../identify/identify';
import { bytesOfName, nameOf } from '../d64/names';
import { isSafeName } from '../safe-name';
import { otherOrder } from '../sixteen-sector-order';

const IMAGES = [
  'd64-plain.d64',
  'd71-plain.d71',
  'd81-plain.d81',
  'prodos-280.po',
  'prodos-280.do',
  'catalogue16-plain.do',
  'cpm-8inch.img',
  'granule-plain.img',
  'sampler-two-partitions.img',
  'wavesample-six-banks.img',
  'mbr-small.img',
  'fat12-old-fe.img',
];
/** Bytes in which each kind keeps its tables and directories: damage there matters. */
const METADATA: Record<string, [number, number]> = {
  'd64-plain.d64': [91_392, 4864],
  'd71-plain.d71': [91_392, 4864],
  'd81-plain.d81': [399_360, 10_240],
  'prodos-280.po': [1024, 4096],
  'prodos-280.do': [0, 8192],
  'catalogue16-plain.do': [69_632, 4096],
  'cpm-8inch.img': [6656, 3328],
  'granule-plain.img': [78_336, 4608],
  'sampler-two-partitions.img': [0, 24_576],
  'wavesample-six-banks.img': [11_264, 5632],
  'mbr-small.img': [0, 512],
  'fat12-old-fe.img': [0, 3072],
};

/** Of every 256 bytes of an image no more reads than this, whatever its tables claim. */
const MOST_READS = 30;
const UNIT = 256;
/** What an image however small may cost. */
const LEAST_READS = 5000;

/** Refuses what no source may be asked for, and counts. */
function watched(bytes: Uint8Array): ByteSource & { reads: number } {
  const inner = memorySource(bytes);
  return {
    size: inner.size,
    reads: 0,
    read(offset, length) {
      this.reads++;
      if (!Number.isFinite(offset) || offset < 0 || !Number.isFinite(length) || length < 0)
        throw new Error(`read of ${length} at ${offset}`);
      return inner.read(offset, length);
    },
  };
}

async function openAll(bytes: Uint8Array): Promise<void> {
  const source = watched(bytes);
  for (const candidate of await candidatesOf(source)) {
    const volume = await candidate.open();
    expect(volume.freeBytes).toBeGreaterThanOrEqual(0);
    let total = 0;
    for (const entry of volume.entries) {
      for (const part of entry.path.split('/')) expect(isSafeName(part)).toBe(true);
      if (entry.kind !== 'file') continue;
      const data = await volume.read(entry);
      expect(data.length).toBeLessThanOrEqual(entry.bytes);
      total += data.length;
      if (total > 64 << 20) break;
    }
  }
  await identifyVolumes(source);
  expect(source.reads).toBeLessThan(LEAST_READS + (MOST_READS * bytes.length) / UNIT);
}

test.each(IMAGES)('%s, damaged where it keeps its tables', async (name) => {
  const image = loadVector(`volumes/${name}`);
  const [start, length] = METADATA[name]!;
  await fc.assert(
    fc.asyncProperty(fc.string(), fc.integer({ min: 1, max: 60 }), async (seed, hits) => {
      const random = seededRandom(seed);
      const bytes = image.slice();
      for (let i = 0; i < hits; i++) bytes[start + random.below(length)] = random.below(256);
      await openAll(bytes);
    }),
    { numRuns: 12 },
  );
});

test('a volume that claims to have 65,535 blocks is looked for in those that there are', async () => {
  const bytes = loadVector('volumes/prodos-280.po').slice();
  bytes.fill(0xff, 2 * 512 + 0x29, 2 * 512 + 0x2b);
  await openAll(bytes);
});

test.each(IMAGES)('%s, cut off anywhere', async (name) => {
  const image = loadVector(`volumes/${name}`);
  await fc.assert(
    fc.asyncProperty(fc.nat(image.length), (end) => openAll(image.slice(0, end))),
    { numRuns: 8 },
  );
});

test('noise holds no volume that is believed', async () => {
  for (const size of [143_360, 174_848, 161_280, 256_256, 450_560, 819_200]) {
    const random = seededRandom(`noise/${size}`);
    const { volumes, problems } = await identifyVolumes(
      memorySource(Uint8Array.from({ length: size }, () => random.below(256))),
    );
    expect([size, volumes.map(({ volume }) => volume.filesystem)]).toEqual([size, []]);
    expect(problems[0]!.kind).toBe('unknown-format');
  }
});

test('the other order of a 16-sector image is its own inverse, and one volume in both orders is the same', async () => {
  const sectors = memorySource(loadVector('volumes/prodos-280.do'));
  expect(
    Buffer.from(await otherOrder(sectors).read(0, 143_360)).equals(
      Buffer.from(loadVector('volumes/prodos-280.po')),
    ),
  ).toBe(true);
  expect(
    Buffer.from(await otherOrder(otherOrder(sectors)).read(1000, 9000)).equals(
      Buffer.from(await sectors.read(1000, 9000)),
    ),
  ).toBe(true);
});

test('names of the 8-bit character set go both ways, and what has no counterpart is refused', () => {
  fc.assert(
    fc.property(
      fc
        .uint8Array({ minLength: 1, maxLength: 16 })
        .filter((bytes) => ![0, 0xa0].includes(bytes[bytes.length - 1]!)),
      (bytes) => {
        expect(bytesOfName(nameOf(bytes), bytes.length)).toEqual(bytes);
      },
    ),
  );
  expect([bytesOfName('HÖRN', 16), bytesOfName('A'.repeat(17), 16)]).toEqual([null, null]);
});
