/**
 * Digests worked out on the thread against those worked out here, with many at once, and what was
 * given up.
 */
import { createHash, randomBytes } from 'node:crypto';
import { ThreadedHash, digestOfStream } from '@/server/platform/threads/threaded-hash';

const MIB = 1 << 20;

async function* piecesOf(bytes: Buffer, size: number): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size);
}

test('many streams at once, in pieces of many sizes, and the bytes stay with their reader', async () => {
  const bytes = randomBytes(3 * MIB + 17);
  const before = Buffer.from(bytes);
  const sizes = [977, 65_536, 262_144, MIB, 4 * MIB];
  const digests = await Promise.all(sizes.map((size) => digestOfStream(piecesOf(bytes, size))));
  expect(digests).toEqual(sizes.map(() => createHash('sha256').update(before).digest('hex')));
  expect(bytes.equals(before)).toBe(true);
});

test('an empty stream has the digest of nothing', async () => {
  expect(await digestOfStream(piecesOf(Buffer.alloc(0), 1))).toBe(
    'e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855',
  );
});

test('one that is given up holds nobody up, and the others go on', async () => {
  const given = new ThreadedHash();
  const kept = new ThreadedHash();
  const piece = randomBytes(24 * MIB);
  const waiting = [given.update(piece), given.update(piece), kept.update(piece)];
  given.drop();
  await Promise.all(waiting);
  await given.update(piece);
  expect(await kept.digest()).toBe(createHash('sha256').update(piece).digest('hex'));
});
