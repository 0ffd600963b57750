/**
 * The surface of a medium, worked out without a canvas: one band a cylinder, outermost on top, the
 * angle of rotation along
 * it; the two heads back to back at the index seam in the middle. Scales by D3.
 */
import { scaleBand, scaleLinear } from 'd3';
import type { Grade } from '@/core/reading/grades';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';

export interface SurfaceSize {
  width: number;
  height: number;
  cylinders: number;
  heads: number;
  /** The part that is looked at; all of it where left out. */
  view?: SurfaceView;
}

/** Where the cursor is; `sector` is −1 where the track as a whole is meant. */
export interface SurfacePlace {
  cylinder: number;
  head: number;
  sector: number;
}

/** A part of the chart: cylinders, and shares of the turn on both heads. */
export interface SurfaceView {
  firstCylinder: number;
  /** Taken in. */
  lastCylinder: number;
  from: number;
  to: number;
}

export const viewOf = ({ view, cylinders }: Pick<SurfaceSize, 'view' | 'cylinders'>): SurfaceView =>
  view ?? { firstCylinder: 0, lastCylinder: cylinders - 1, from: 0, to: 1 };

/** Fewest cylinders, and the smallest share of a turn, that a view shrinks to. */
const FEWEST = 4;
const NARROWEST = 0.05;

/**
 * The view zoomed by `factor` (below 1 looks closer) about a cylinder, or about an angle; null
 * where it is the whole chart again.
 */
export function zoomed(
  size: Pick<SurfaceSize, 'view' | 'cylinders'>,
  factor: number,
  about: { cylinder: number } | { angle: number },
): SurfaceView | undefined {
  const view = viewOf(size);
  const next = { ...view };
  if ('cylinder' in about) {
    const count = Math.max(
      Math.min(FEWEST, size.cylinders),
      Math.min(size.cylinders, Math.round((view.lastCylinder - view.firstCylinder + 1) * factor)),
    );
    const share =
      (about.cylinder - view.firstCylinder) / Math.max(1, view.lastCylinder - view.firstCylinder);
    next.firstCylinder = Math.max(
      0,
      Math.min(size.cylinders - count, Math.round(about.cylinder - share * (count - 1))),
    );
    next.lastCylinder = next.firstCylinder + count - 1;
  } else {
    const width = Math.max(NARROWEST, Math.min(1, (view.to - view.from) * factor));
    next.from = Math.max(
      0,
      Math.min(
        1 - width,
        about.angle - ((about.angle - view.from) / (view.to - view.from)) * width,
      ),
    );
    next.to = next.from + width;
  }
  return next.firstCylinder === 0 &&
    next.lastCylinder === size.cylinders - 1 &&
    next.from === 0 &&
    next.to === 1
    ? undefined
    : next;
}

/** The view moved so that a cylinder is in it. */
export function withCylinder(
  view: SurfaceView | undefined,
  cylinder: number,
): SurfaceView | undefined {
  if (!view || (cylinder >= view.firstCylinder && cylinder <= view.lastCylinder)) return view;
  const by =
    cylinder < view.firstCylinder ? cylinder - view.firstCylinder : cylinder - view.lastCylinder;
  return { ...view, firstCylinder: view.firstCylinder + by, lastCylinder: view.lastCylinder + by };
}

/** A sector's place on the chart, in pixels; one that lies across the index has two. */
export interface SurfaceBar {
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

export type SurfaceScales = ReturnType<typeof surfaceScales>;

export function surfaceScales(size: SurfaceSize) {
  const { width, height, heads } = size;
  const { firstCylinder, lastCylinder, from, to } = viewOf(size);
  const half = heads === 1 ? width - SEAM : (width - SEAM) / 2;
  const y = scaleBand<number>()
    .domain(Array.from({ length: lastCylinder - firstCylinder + 1 }, (_, i) => firstCylinder + i))
    .rangeRound([0, height])
    .paddingInner(0.16)
    .align(0);
  // Angle 0 lies at the seam for both heads, unless a part of the turn is looked at.
  const x = [
    scaleLinear([from, to], heads === 1 ? [SEAM, width] : [half, 0]).clamp(true),
    scaleLinear([from, to], [half + SEAM, width]).clamp(true),
  ] as const;
  return { x: heads === 1 ? ([x[0], x[0]] as const) : x, y, half };
}

/**
 * Angles of sectors that were never seen, taken from the nearest cylinder on which the same number
 * was.
 */
function anglesByNumber(
  tracks: readonly TrackMarks[],
): Map<number, { cylinder: number; angle: number; span: number }[]> {
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

type Visit = (
  x: number,
  y: number,
  width: number,
  height: number,
  track: TrackMarks,
  mark: SectorMark,
) => void;

/**
 * Visits the bars of the given tracks, without an object for each: ten thousand of them took
 * longer to make than to
 * paint. `all` are the tracks that angles of unseen sectors may be taken from.
 */
export function eachBar(
  tracks: readonly TrackMarks[],
  size: SurfaceSize,
  all: readonly TrackMarks[],
  scales: SurfaceScales,
  visit: Visit,
): void {
  const { y } = scales;
  const height = Math.max(1, y.bandwidth());
  const { from: first, to: last } = viewOf(size);
  let seen: ReturnType<typeof anglesByNumber> | null = null;
  for (const track of tracks) {
    const { cylinder, head, sectors } = track;
    const top = y(cylinder);
    if (top === undefined) continue;
    // A linear scale by its ends: asked for each sector, the scale itself took most of a frame.
    const [start, end] = scales.x[head]!.range() as [number, number];
    const perTurn = (end - start) / (last - first);
    for (let i = 0; i < sectors.length; i++) {
      const mark = sectors[i]!;
      let { angle, span } = mark;
      ({ angle, span, seen } = placeOfMark(
        angle,
        span,
        seen,
        all,
        mark,
        head,
        cylinder,
        i,
        sectors,
      ));
      // One that lies across the index has a part at either end.
      for (
        let from = angle, to = Math.min(1, angle + span), rest = angle + span - 1;
        ;
        from = 0, to = rest, rest = 0
      ) {
        // Beside the part that is looked at there is nothing to show.
        if (to > first && from < last) {
          const a = start + (Math.max(from, first) - first) * perTurn;
          const b = start + (Math.min(to, last) - first) * perTurn;
          visit(a < b ? a : b, top, Math.max(THINNEST, Math.abs(b - a) - 1), height, track, mark);
        }
        if (rest <= 0) break;
      }
    }
  }
}

function placeOfMark(
  angle: number | null,
  span: number | null,
  seen: ReturnType<typeof anglesByNumber> | null,
  all: readonly TrackMarks[],
  mark: SectorMark,
  head: number,
  cylinder: number,
  i: number,
  sectors: SectorMark[],
) {
  if (angle === null || span === null) {
    seen ??= anglesByNumber(all);
    const known = seen
      .get(mark.r * 2 + head)
      ?.reduce((a, b) =>
        Math.abs(b.cylinder - cylinder) < Math.abs(a.cylinder - cylinder) ? b : a,
      );
    angle = known?.angle ?? i / sectors.length;
    span = known?.span ?? 0.8 / sectors.length;
  }
  return { angle, span, seen };
}

/** Bars of the given tracks, as `eachBar` has them. */
export function surfaceBars(
  tracks: readonly TrackMarks[],
  size: SurfaceSize,
  all: readonly TrackMarks[] = tracks,
  scales = surfaceScales(size),
): SurfaceBar[] {
  const bars: SurfaceBar[] = [];
  eachBar(tracks, size, all, scales, (x, y, width, height, track, mark) =>
    bars.push(barOf(x, y, width, height, track, mark, size)),
  );
  return bars;
}

export const barOf = (
  x: number,
  y: number,
  width: number,
  height: number,
  { cylinder, head }: TrackMarks,
  mark: SectorMark,
  { heads }: SurfaceSize,
): SurfaceBar => ({
  x,
  y,
  width,
  height,
  grade: mark.grade,
  cylinder,
  head,
  mark,
  leading: head === 0 && heads > 1 ? 'right' : 'left',
});

/** The cylinder and head under a point, or null beside the bands. */
export function trackAt(
  px: number,
  py: number,
  size: SurfaceSize,
): { cylinder: number; head: number } | null {
  const { y, half } = surfaceScales(size);
  const { firstCylinder, lastCylinder } = viewOf(size);
  const cylinder = firstCylinder + Math.floor(py / y.step());
  if (cylinder < firstCylinder || cylinder > lastCylinder) return null;
  if (size.heads === 1) return px >= SEAM ? { cylinder, head: 0 } : null;
  if (px <= half) return { cylinder, head: 0 };
  return px >= half + SEAM ? { cylinder, head: 1 } : null;
}
