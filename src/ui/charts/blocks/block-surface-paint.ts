'use client';
/** Paints the surface of a linear device. */
import {
  bandScales,
  blockBars,
  type BlockSurfaceSize,
  type PackedExtent,
} from './block-surface-layout';
import { paintGrade, type SurfaceColours } from '../surface-paint';
import { STEPS } from '../surface-overlay';
import type { Shown } from './block-surface-props';

const MAX_TRIES = 12;

function shade(
  [, , , tries, pace]: PackedExtent,
  shown: Shown,
  colours: SurfaceColours,
): string | null {
  if (shown === 'grade') return null;
  const step = shown === 'pace' ? pace / 2 : Math.min(1, (tries - 1) / (MAX_TRIES - 1));
  return colours.steps[Math.round(step * (STEPS - 1))] ?? null;
}

export function paint(
  context: CanvasRenderingContext2D,
  size: BlockSurfaceSize,
  extents: readonly PackedExtent[],
  shown: Shown,
  colours: SurfaceColours,
): void {
  const scales = bandScales(size);
  context.fillStyle = colours.ground;
  context.fillRect(0, 0, size.width, size.height);
  context.fillStyle = colours.unread;
  for (let band = 0; band < scales.bands; band++) {
    const end = Math.min(scales.span, size.view.to - size.view.from - band * scales.span);
    context.fillRect(
      scales.x(0),
      scales.y(band)! + scales.y.bandwidth() / 2 - 0.5,
      scales.x(end) - scales.x(0),
      1,
    );
  }
  for (const { x, y, width, height, extent } of blockBars(extents, size, scales))
    paintGrade(
      context,
      { x, y, width, height, grade: extent[2], leading: 'left' },
      colours,
      shade(extent, shown, colours),
    );
}
