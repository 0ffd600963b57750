/**
 * What may be laid over the surface: a value for each sector, in steps of lightness; the patterns
 * of
 * the grades stay on top.
 */
import type { Difference } from '@/core/reading/analysis/compare';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import { say } from '@/messages';

export const OVERLAYS = Object.freeze(['grade', 'tries', 'timing', 'pass', 'differences'] as const);
export type Overlay = (typeof OVERLAYS)[number];

export const OVERLAY_WORDS: Record<Overlay, string> = {
  grade: say.charts.grades,
  tries: say.charts.readingsItTook,
  timing: say.charts.timingError,
  pass: say.charts.passThatSuppliedIt,
  differences: 'differences',
};

/** Steps of lightness, from nothing to tell to most. */
export const STEPS = 5;

export interface OverlayScale {
  overlay: Overlay;
  /** Scales with one key paint alike: only what changed on the disk is painted anew. */
  key: string;
  /** What step `n` means, from 0; fewer than `STEPS` where there is less to tell. */
  legend: readonly string[];
  /** The step of a sector, or null where nothing is known. */
  step(track: Pick<TrackMarks, 'cylinder' | 'head' | 'tries'>, mark: SectorMark): number | null;
}

/** Hundredths of a cell at which a step begins: beyond 20 neighbours are taken for one another. */
const TIMING_FROM = [0, 6, 10, 14, 18];

const upTo = (count: number, name: (n: number) => string) =>
  Array.from({ length: STEPS }, (_, i) => name(i + 1)).slice(0, Math.max(1, count));

export const differenceKey = (cylinder: number, head: number, r: number) =>
  `${cylinder}/${head}/${r}`;

/**
 * `differences` name sectors that differ from what they are held against; what is not named is the
 * same.
 */
export function overlayScale(
  overlay: Overlay,
  tracks: readonly TrackMarks[],
  differences: ReadonlyMap<string, Difference> | null,
): OverlayScale {
  const scale = scaleOf(overlay, tracks, differences);
  return { ...scale, key: `${overlay}/${scale.legend.length}` };
}

function scaleOf(
  overlay: Overlay,
  tracks: readonly TrackMarks[],
  differences: ReadonlyMap<string, Difference> | null,
): Omit<OverlayScale, 'key'> {
  switch (overlay) {
    case 'tries': {
      const most = Math.max(1, ...tracks.map(({ tries }) => tries));
      return {
        overlay,
        legend: upTo(Math.min(STEPS, most), (n) =>
          n === STEPS ? say.charts.andMore2({ n }) : String(n),
        ),
        step: ({ tries }) => Math.min(STEPS, tries) - 1,
      };
    }
    case 'timing':
      return {
        overlay,
        legend: TIMING_FROM.map((from, i) =>
          i + 1 < TIMING_FROM.length
            ? say.charts.ofACell({ from, timingFrom: TIMING_FROM[i + 1] })
            : say.charts.over({ from }),
        ),
        step: (_, { timing }) =>
          timing === undefined ? null : TIMING_FROM.findLastIndex((from) => timing >= from),
      };
    case 'pass': {
      const most = Math.max(
        1,
        ...tracks.flatMap(({ sectors }) => sectors.map(({ pass = 1 }) => pass)),
      );
      return {
        overlay,
        legend: upTo(Math.min(STEPS, most), (n) =>
          n === STEPS ? say.charts.passAndLater({ n }) : say.charts.pass({ n }),
        ),
        step: (_, { pass }) => (pass === undefined ? null : Math.min(STEPS, Math.max(1, pass)) - 1),
      };
    }
    case 'differences':
      return {
        overlay,
        legend: [
          say.charts.theSame,
          say.charts.soundInOneOnly,
          say.charts.soundInNeither,
          'different',
        ],
        step: ({ cylinder, head }, { r }) =>
          (({ same: 0, 'first-only': 1, 'second-only': 1, neither: 2, differ: 3 }) as const)[
            differences?.get(differenceKey(cylinder, head, r)) ?? 'same'
          ],
      };
    default:
      return { overlay: 'grade', legend: [], step: () => null };
  }
}
