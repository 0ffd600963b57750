'use client';
/** What the surface of a linear device is drawn of, and what may be shown on it. */
import { type PackedExtent } from './block-surface-layout';
import { say } from '@/messages';

/** What the bars are shaded by. */
export const SHOWN = {
  grade: say.charts.howSound,
  tries: say.charts.howOftenAsked,
  pace: say.charts.howLongItTook,
} as const;

export type Shown = keyof typeof SHOWN;

export interface BlockSurfaceChartProps {
  extents: readonly PackedExtent[];
  blocks: number;
  blockBytes: number;
  height: number;
  /** The last block that was asked for. */
  active?: number | null;
  /** Which files lie on blocks, where that is known. */
  filesOn?: (from: number, to: number) => string[];
}
