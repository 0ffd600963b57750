import { gunzipSync } from 'node:zlib';
import fc from 'fast-check';
import { nodeDeflater, nodeInflater } from '@/node/deflate';
import { nodeDigester } from '@/node/digester';
import { sha256Hex } from '../../../tests/support/vectors';
import { memorySource } from '../bits/byte-source';
import { crc32 } from '../bits/crc32';
import { packSource, tryPacking } from './pack-source';
import { CHUNK_BYTES, indexMembers, packedSource, readIndex } from './packed';

const content = (bytes: number) =>
  Uint8Array.from({ length: bytes }, (_, i) => (i % 977 < 600 ? 0xe5 : (i * 31 + (i >> 8)) & 0xff));
async function packed(bytes: Uint8Array): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  for await (const part of packSource(memorySource(bytes), nodeDeflater, nodeDigester))
    parts.push(part);
  return new Uint8Array(Buffer.concat(parts));
}

test.each([0, 1, CHUNK_BYTES, CHUNK_BYTES + 1, 3 * CHUNK_BYTES - 5])(
  '%i bytes: any gunzip unpacks them, and they are read at any place',
  async (size) => {
    const bytes = content(size);
    const file = await packed(bytes);
    expect(Buffer.compare(gunzipSync(file), bytes)).toBe(0);
    const index = (await readIndex(memorySource(file)))!;
    expect([index.totalBytes, index.sha256]).toEqual([size, sha256Hex(bytes)]);
    const source = packedSource(memorySource(file), index, nodeInflater);
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: size + 10 }),
        fc.integer({ min: 0, max: 5000 }),
        async (from, length) => {
          expect(
            Buffer.compare(await source.read(from, length), bytes.subarray(from, from + length)),
          ).toBe(0);
        },
      ),
      { numRuns: 20 },
    );
  },
);

test('an index of more chunks than one extra field holds is found from its end', async () => {
  const lengths = Array.from({ length: 40_000 }, (_, i) => 1040 + (i % 7));
  const body = new Uint8Array(lengths.reduce((sum, length) => sum + length, 0));
  const parts = indexMembers(lengths, lengths.length * CHUNK_BYTES - 3, new Uint8Array(32).fill(7));
  expect(parts).toHaveLength(3);
  for (const part of parts) expect(gunzipSync(part)).toHaveLength(0);
  const index = (await readIndex(memorySource(new Uint8Array(Buffer.concat([body, ...parts])))))!;
  expect([index.starts.length, index.starts[40_000], index.totalBytes]).toEqual([
    40_001,
    body.length,
    lengths.length * CHUNK_BYTES - 3,
  ]);
});

test('a hurt chunk is named and given up, the others are read; a hurt index is none', async () => {
  const bytes = content(3 * CHUNK_BYTES);
  const file = await packed(bytes);
  const index = (await readIndex(memorySource(file)))!;
  const hurt = file.slice();
  hurt[index.starts[1]! + 500]! ^= 0x10;
  const source = packedSource(memorySource(hurt), index, nodeInflater);
  await expect(source.read(CHUNK_BYTES + 5, 10)).rejects.toThrow(
    'Chunk 2 of the packed file is damaged: 1048576 bytes from 1048576 on are lost.',
  );
  expect(
    Buffer.compare(
      await source.read(2 * CHUNK_BYTES, 100),
      bytes.subarray(2 * CHUNK_BYTES, 2 * CHUNK_BYTES + 100),
    ),
  ).toBe(0);
  await fc.assert(
    fc.asyncProperty(
      fc.integer({ min: index.starts[3]!, max: file.length - 1 }),
      fc.integer({ min: 1, max: 255 }),
      async (at, by) => {
        const changed = file.slice();
        changed[at]! ^= by;
        const read = await readIndex(memorySource(changed));
        // What is read all the same leads to chunks that fail their own checks, or to the right
        // ones.
        if (read) expect(read.starts.length - 1).toBe(Math.ceil(read.totalBytes / read.chunkBytes));
      },
    ),
  );
  expect([
    await readIndex(memorySource(new Uint8Array(0))),
    await readIndex(memorySource(bytes)),
    await readIndex(memorySource(file.subarray(0, file.length - 1))),
  ]).toEqual([null, null, null]);
});

test('a chunk that would unpack to more than it should is refused', async () => {
  const file = await packed(new Uint8Array(2 * CHUNK_BYTES));
  const index = (await readIndex(memorySource(file)))!;
  const lying = packedSource(
    memorySource(file),
    { ...index, totalBytes: 100, starts: [0, index.starts[1]!] },
    nodeInflater,
  );
  await expect(lying.read(0, 10)).rejects.toThrow('Chunk 1');
});

test('an index that claims chunks or a content of impossible size is none', async () => {
  const file = await packed(content(5000));
  const view = new DataView(file.buffer);
  // Of the member of the index: its extra field begins with `FS`, chunk bytes and total in it.
  const extra = Buffer.from(file).lastIndexOf('FS', undefined, 'latin1');
  const index = () => readIndex(memorySource(file));
  expect((await index())?.totalBytes).toBe(5000);
  view.setUint32(extra + 16, 0xffffffff, true);
  expect(await index()).toBeNull();
  view.setUint32(extra + 16, 64 << 20, true);
  expect((await index())?.totalBytes).toBe(5000);
  view.setBigUint64(extra + 20, BigInt(60 << 20), true);
  expect(await index()).toBeNull();
});

test('a trial says what packing makes of it', async () => {
  expect(
    (await tryPacking(memorySource(new Uint8Array(20 * CHUNK_BYTES)), nodeDeflater)).packedShare,
  ).toBeLessThan(0.01);
  expect(await tryPacking(memorySource(new Uint8Array(0)), nodeDeflater)).toEqual({
    bytes: 0,
    sampled: 0,
    packedShare: 1,
  });
});

test('the CRC of gzip, by its published check value', () =>
  expect(crc32(new TextEncoder().encode('123456789'))).toBe(0xcbf43926));
