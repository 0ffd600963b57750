/**
 * The strata of a medium, worked out without a canvas: one band a cylinder, outermost on top, the angle of rotation along
 * it; the two heads back to back at the index seam in the middle. Scales by D3.
 */
import { scaleBand, scaleLinear } from 'd3';
import type { Grade } from '@/core/reading/grades';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { TrackMarks } from '@/core/reading/track-marks';

export interface StrataSize {
  width: number;
  height: number;
  cylinders: number;
  heads: number;
}

/** A sector's place on the chart, in pixels; one that lies across the index has two. */
export interface StrataBar {
  x: number;
  y: number;
  width: number;
  height: number;
  grade: Grade;
  cylinder: number;
  head: number;
  mark: SectorMark;
  /** Which end the head meets first: to the right on head 1, to the left on head 0. */
  leading: 'left' | 'right';
}

/** Pixels of the middle column that holds the cylinder numbers. */
export const SEAM = 44;
/** A sector never thinner than this. */
const THINNEST = 1.5;

export type StrataScales = ReturnType<typeof strataScales>;

export function strataScales({ width, height, cylinders, heads }: StrataSize) {
  const half = heads === 1 ? width - SEAM : (width - SEAM) / 2;
  const y = scaleBand<number>().domain(Array.from({ length: cylinders }, (_, i) => i)).rangeRound([0, height]).paddingInner(0.16).align(0);
  // Angle 0 lies at the seam for both heads.
  const x = [scaleLinear([0, 1], heads === 1 ? [SEAM, width] : [half, 0]), scaleLinear([0, 1], [half + SEAM, width])] as const;
  return { x: heads === 1 ? [x[0], x[0]] as const : x, y, half };
}

/** Angles of sectors that were never seen, taken from the nearest cylinder on which the same number was. */
function anglesByNumber(tracks: readonly TrackMarks[]): Map<number, { cylinder: number; angle: number; span: number }[]> {
  const seen = new Map<number, { cylinder: number; angle: number; span: number }[]>();
  for (const { cylinder, head, sectors } of tracks) {
    for (const { r, angle, span } of sectors) {
      if (angle === null || span === null) continue;
      const key = r * 2 + head;
      const list = seen.get(key);
      if (list) list.push({ cylinder, angle, span });
      else seen.set(key, [{ cylinder, angle, span }]);
    }
  }
  return seen;
}

/** Bars of the given tracks; `all` are the tracks that angles of unseen sectors may be taken from. */
export function strataBars(tracks: readonly TrackMarks[], size: StrataSize, all: readonly TrackMarks[] = tracks, scales = strataScales(size)): StrataBar[] {
  const { x, y } = scales;
  const height = Math.max(1, y.bandwidth());
  const bars: StrataBar[] = [];
  let seen: ReturnType<typeof anglesByNumber> | null = null;
  for (const { cylinder, head, sectors } of tracks) {
    const top = y(cylinder);
    if (top === undefined) continue;
    for (const [i, mark] of sectors.entries()) {
      let { angle, span } = mark;
      if (angle === null || span === null) {
        seen ??= anglesByNumber(all);
        const known = seen.get(mark.r * 2 + head)?.reduce((a, b) => (Math.abs(b.cylinder - cylinder) < Math.abs(a.cylinder - cylinder) ? b : a));
        angle = known?.angle ?? i / sectors.length;
        span = known?.span ?? 0.8 / sectors.length;
      }
      for (const [from, to] of angle + span > 1 ? [[angle, 1], [0, angle + span - 1]] as const : [[angle, angle + span]] as const) {
        const [a, b] = [x[head]!(from), x[head]!(to)];
        bars.push({
          x: Math.min(a, b), y: top, width: Math.max(THINNEST, Math.abs(b - a) - 1), height, grade: mark.grade, cylinder, head, mark, leading: a < b ? 'left' : 'right',
        });
      }
    }
  }
  return bars;
}

/** The cylinder and head under a point, or null beside the bands. */
export function trackAt(px: number, py: number, size: StrataSize): { cylinder: number; head: number } | null {
  const { y, half } = strataScales(size);
  const cylinder = Math.floor(py / y.step());
  if (cylinder < 0 || cylinder >= size.cylinders) return null;
  if (size.heads === 1) return px >= SEAM ? { cylinder, head: 0 } : null;
  if (px <= half) return { cylinder, head: 0 };
  return px >= half + SEAM ? { cylinder, head: 1 } : null;
}
