/** Where extents lie on the surface of a linear device. */
import {
  bandScales,
  blockAt,
  blockBars,
  extentAt,
  nextOdd,
  zoomedView,
  type PackedExtent,
} from './block-surface-layout';

const extents: PackedExtent[] = [
  [0, 1000, 'firm', 1, 0],
  [1000, 1001, 'lost', 12, 0],
  [1001, 90_000, 'firm', 1, 0],
  [95_000, 100_000, 'mended', 2, 1],
];
const size = { width: 1000, height: 480, view: { from: 0, to: 100_000 } };

test('one lost block of a hundred thousand is seen, above what is firm', () => {
  const bars = blockBars(extents, size, bandScales(size));
  const lost = bars.filter(({ extent }) => extent[2] === 'lost');
  expect(lost).toHaveLength(1);
  expect(lost[0]!.width).toBe(2);
  expect(bars.indexOf(lost[0]!)).toBeGreaterThan(
    bars.findLastIndex(({ extent }) => extent[2] === 'firm'),
  );
});

test('bars of a view cover it once, and points find their blocks', () => {
  const scales = bandScales(size);
  const covered = blockBars([[0, 100_000, 'firm', 1, 0]], size, scales).reduce(
    (sum, { width }) => sum + width,
    0,
  );
  expect(covered).toBeCloseTo(scales.x(100_000) - scales.x(0), 3);
  for (const block of [0, 999, 4999, 5000, 77_777, 99_999]) {
    const band = Math.floor(block / scales.span);
    expect(
      Math.abs(
        blockAt(scales.x(block - band * scales.span) + 0.01, scales.y(band)! + 2, size)! - block,
      ),
    ).toBeLessThanOrEqual(1);
  }
  expect(blockAt(10, 10, size)).toBeNull();
});

test('a block’s extent, the next odd one, and looking closer', () => {
  expect(extentAt(extents, 1000)![2]).toBe('lost');
  expect(extentAt(extents, 92_000)).toBeNull();
  expect(nextOdd(extents, 1000, true)![0]).toBe(95_000);
  expect(nextOdd(extents, 95_000, false)![0]).toBe(1000);
  expect(nextOdd(extents, 96_000, true)).toBeNull();
  expect(zoomedView({ from: 0, to: 100_000 }, 0.1, 99_999, 100_000)).toEqual({
    from: 90_000,
    to: 100_000,
  });
  expect(zoomedView({ from: 90_000, to: 100_000 }, 100, 95_000, 100_000)).toEqual({
    from: 0,
    to: 100_000,
  });
  expect(zoomedView({ from: 0, to: 4 }, 0.5, 2, 4)).toEqual({ from: 0, to: 4 });
});
