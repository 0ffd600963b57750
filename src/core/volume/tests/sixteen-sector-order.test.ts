/** The two orders of sixteen sectors: one seen as the other, wherever and however it is read. */
import fc from 'fast-check';
import { memorySource } from '../../bits/byte-source';
import { otherOrder, turnedBytes } from '../sixteen-sector-order';

/** Sector of the catalogue's order that holds each half of the eight blocks of a track. */
const HALVES = [
  [0, 14],
  [13, 12],
  [11, 10],
  [9, 8],
  [7, 6],
  [5, 4],
  [3, 2],
  [1, 15],
].flat();
const IMAGE = Uint8Array.from({ length: 2 * 4096 }, (_, i) => (i >> 8) * 16 + (i & 15));
const hex = (bytes: Uint8Array) => Buffer.from(bytes).toString('hex');

test('each half of a block is the sector that holds it', () => {
  const blocks = turnedBytes(IMAGE);
  for (const track of [0, 1])
    HALVES.forEach((sector, half) => {
      const at = track * 4096;
      expect(hex(blocks.subarray(at + half * 256, at + half * 256 + 256))).toBe(
        hex(IMAGE.subarray(at + sector * 256, at + sector * 256 + 256)),
      );
    });
});

test('turned twice it is what it was', () =>
  expect(hex(turnedBytes(turnedBytes(IMAGE)))).toBe(hex(IMAGE)));

test('any stretch of a source is that stretch of it turned', () =>
  fc.assert(
    fc.asyncProperty(fc.nat(9000), fc.nat(9000), async (offset, length) => {
      const turned = turnedBytes(IMAGE).subarray(offset, offset + length);
      expect(hex(await otherOrder(memorySource(IMAGE)).read(offset, length))).toBe(hex(turned));
    }),
  ));

test('an image that ends within a track gives what there is', async () => {
  const cut = otherOrder(memorySource(IMAGE.subarray(0, 5000)));
  const bytes = await cut.read(0, 6000);
  expect(bytes).toHaveLength(5000);
  expect(hex(bytes.subarray(0, 4096))).toBe(hex(turnedBytes(IMAGE).subarray(0, 4096)));
});
