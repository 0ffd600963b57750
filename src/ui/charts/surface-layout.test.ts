/**
 * The surface's arithmetic: both heads back to back at the index, true angles, nothing outside the
 * chart.
 */
import fc from 'fast-check';
import type { SectorMark } from '@/core/reading/sector-mark';
import { SEAM, surfaceBars, surfaceScales, trackAt, type SurfaceSize } from './surface-layout';

const size: SurfaceSize = { width: 844, height: 492, cylinders: 80, heads: 2 };
const mark = (angle: number | null, span: number | null, r = 1): SectorMark => ({
  c: 0,
  h: 0,
  r,
  n: 2,
  size: 512,
  grade: angle === null ? 'lost' : 'firm',
  angle,
  span,
  deleted: false,
  mending: null,
  seen: 1,
  seenSound: 1,
});

test('the index is at the seam for both heads, a full turn at the outer edges', () => {
  const { x, half } = surfaceScales(size);
  expect([x[0](0), x[0](1), x[1](0), x[1](1)]).toEqual([half, 0, half + SEAM, size.width]);
});

test('a sector across the index has a part at each end', () => {
  const bars = surfaceBars([{ cylinder: 5, head: 1, tries: 1, sectors: [mark(0.95, 0.1)] }], size);
  expect(bars).toHaveLength(2);
  expect(Math.min(...bars.map(({ x }) => x))).toBeCloseTo(surfaceScales(size).half + SEAM);
});

test('a sector never seen stands where its number is on the nearest cylinder', () => {
  const near = { cylinder: 9, head: 0, tries: 1, sectors: [mark(0.4, 0.08, 7)] };
  const bars = surfaceBars(
    [near, { cylinder: 10, head: 0, tries: 1, sectors: [mark(null, null, 7)] }],
    size,
  );
  expect(bars[1]!.x).toBeCloseTo(bars[0]!.x);
});

test('every bar lies within the chart, on its own band', () => {
  fc.assert(
    fc.property(
      fc.nat(79),
      fc.constantFrom(0, 1),
      fc.double({ min: 0, max: 0.999, noNaN: true }),
      fc.double({ min: 0.01, max: 0.3, noNaN: true }),
      (cylinder, head, angle, span) => {
        for (const bar of surfaceBars(
          [{ cylinder, head, tries: 1, sectors: [mark(angle, span)] }],
          size,
        )) {
          expect(bar.x).toBeGreaterThanOrEqual(-0.01);
          expect(bar.x + bar.width).toBeLessThanOrEqual(size.width + 1.6);
          expect(trackAt(bar.x + bar.width / 2, bar.y + bar.height / 2, size)).toEqual({
            cylinder,
            head,
          });
        }
      },
    ),
  );
});
