'use client';
/** What a surface chart painted last: what changed since is known by it. */
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import { type SurfaceSize } from './surface-layout';
import { type OverlayScale } from './surface-overlay';
import type { SurfaceChartProps } from './surface-chart-props';

export interface Painted {
  size: SurfaceSize;
  differences: SurfaceChartProps['differences'];
  overlay: OverlayScale;
  scheme: string;
  byTrack: Map<number, TrackMarks>;
  active: number;
}

export const keyOf = ({ cylinder, head }: { cylinder: number; head: number }) =>
  cylinder * 2 + head;
