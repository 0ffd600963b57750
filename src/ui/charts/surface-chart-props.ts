'use client';
/** What a surface chart is given. */
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import type { Difference } from '@/core/reading/analysis/compare';

export interface SurfaceChartProps {
  tracks: readonly TrackMarks[];
  cylinders: number;
  heads: number;
  height: number;
  active?: { cylinder: number; head: number } | null;
  /** A track was chosen, by a click or by Enter at the cursor. */
  onOpen?: (track: { cylinder: number; head: number; sector?: number }) => void;
  /**
   * What the medium was held against, for the overlay of differences; there is none where it was
   * held against nothing.
   */
  differences?: ReadonlyMap<string, Difference> | null;
  /** What a file with the chart is called. */
  name?: string;
}
