'use client';
/** Paints the surface: all of it where its size changed, else only the tracks that did. */
import { RefObject, useEffect } from 'react';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import { type SurfaceSize } from './surface-layout';
import { type OverlayScale } from './surface-overlay';
import { coloursOf, paintSurface, paintTrack, SurfaceColours } from './surface-paint';
import { type Painted, keyOf } from './painted-surface';

/** Keeps what drawing cost where `npm run bench -- pages` reads it. */
function measured(canvas: HTMLCanvasElement, paint: () => void): void {
  const start = performance.now();
  paint();
  const spent = performance.now() - start;
  canvas.dataset.frames = String(Number(canvas.dataset.frames ?? 0) + 1);
  canvas.dataset.longestMs = String(Math.max(Number(canvas.dataset.longestMs ?? 0), spent));
}

interface UseSurfacePaintingGiven {
  canvas: RefObject<HTMLCanvasElement | null>;
  width: number;
  tracks: readonly TrackMarks[];
  active: { cylinder: number; head: number } | null;
  overlay: OverlayScale;
  painted: RefObject<Painted | null>;
  size: SurfaceSize;
  differences: ReadonlyMap<
    string,
    'same' | 'differ' | 'first-only' | 'second-only' | 'neither'
  > | null;
  scheme: string;
  byTrack: Map<number, TrackMarks>;
}

export function useSurfacePainting({
  canvas,
  width,
  tracks,
  active,
  overlay,
  painted,
  size,
  differences,
  scheme,
  byTrack,
}: UseSurfacePaintingGiven) {
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d', { alpha: false });
    if (!element || !context || width === 0) return;
    const frame = requestAnimationFrame(() =>
      measured(element, () => {
        const picture = { tracks, active, overlay };
        const colours = coloursOf(element);
        const before = painted.current;
        const now: Painted = {
          size,
          differences,
          overlay,
          scheme,
          byTrack,
          active: active ? keyOf(active) : -1,
        };
        if (
          !before ||
          before.size !== size ||
          before.scheme !== scheme ||
          before.overlay.key !== overlay.key ||
          before.differences !== differences
        ) {
          paintAll(size, element, context, picture, colours);
        } else {
          // Only what changed: a track that came in costs a fraction of a millisecond.
          paintChanged(byTrack, before, now, context, size, picture, colours);
        }
        painted.current = now;
      }),
    );
    return () => cancelAnimationFrame(frame);
  }, [canvas, painted, tracks, byTrack, active, size, scheme, width, overlay, differences]);
}

function paintAll(
  size: SurfaceSize,
  element: HTMLCanvasElement,
  context: CanvasRenderingContext2D,
  picture: {
    tracks: readonly TrackMarks[];
    active: { cylinder: number; head: number } | null;
    overlay: OverlayScale;
  },
  colours: SurfaceColours,
) {
  const ratio = window.devicePixelRatio || 1;
  const [wide, high] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
  if (element.width !== wide) element.width = wide;
  if (element.height !== high) element.height = high;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  paintSurface(context, size, picture, colours);
}

function paintChanged(
  byTrack: Map<number, TrackMarks>,
  before: Painted,
  now: Painted,
  context: CanvasRenderingContext2D,
  size: SurfaceSize,
  picture: {
    tracks: readonly TrackMarks[];
    active: { cylinder: number; head: number } | null;
    overlay: OverlayScale;
  },
  colours: SurfaceColours,
) {
  const changed = new Set<number>();
  for (const [key, track] of byTrack) if (before.byTrack.get(key) !== track) changed.add(key);
  if (before.active !== now.active) {
    changed.add(before.active);
    changed.add(now.active);
  }
  for (const key of changed)
    if (key >= 0) paintTrack(context, size, picture, colours, key >> 1, key & 1);
}
