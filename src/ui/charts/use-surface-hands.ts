'use client';
/** How the surface chart answers to a wheel, a pointer and keys. */
import {
  Dispatch,
  RefObject,
  SetStateAction,
  useEffect,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import {
  surfaceBars,
  surfaceScales,
  trackAt,
  withCylinder,
  zoomed,
  type SurfaceSize,
  type SurfaceView,
  type SurfacePlace,
} from './surface-layout';
import { keyOf } from './painted-surface';

export function useWheelZoom(
  canvas: RefObject<HTMLCanvasElement | null>,
  size: SurfaceSize,
  setView: Dispatch<SetStateAction<SurfaceView | undefined>>,
) {
  useEffect(() => {
    const element = canvas.current!;
    // Not through React, whose wheel events can't be kept from scrolling the page.
    const wheel = (event: WheelEvent) => {
      if (!event.ctrlKey && !event.shiftKey) return;
      const place = trackAt(event.offsetX, event.offsetY, size);
      if (!place) return;
      event.preventDefault();
      const factor = event.deltaY + event.deltaX < 0 ? 0.75 : 1 / 0.75;
      setView(
        zoomed(
          size,
          factor,
          event.shiftKey
            ? { angle: surfaceScales(size).x[place.head]!.invert(event.offsetX) }
            : { cylinder: place.cylinder },
        ),
      );
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [canvas, size, setView]);
}

export function surfacePointer(
  size: SurfaceSize,
  setCursor: Dispatch<SetStateAction<SurfacePlace | null>>,
  byTrack: Map<number, TrackMarks>,
  tracks: readonly TrackMarks[],
) {
  return (event: PointerEvent<HTMLCanvasElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const [x, y] = [event.clientX - box.left, event.clientY - box.top];
    const place = trackAt(x, y, size);
    if (!place) return setCursor(null);
    const track = byTrack.get(keyOf(place));
    const bar =
      track &&
      surfaceBars([track], size, tracks).find(
        (each) => x >= each.x - 1 && x <= each.x + each.width + 1,
      );
    setCursor({ ...place, sector: bar && track ? track.sectors.indexOf(bar.mark) : -1 });
  };
}

interface SurfaceKeysGiven {
  cursor: SurfacePlace | null;
  onOpen: ((track: { cylinder: number; head: number; sector?: number }) => void) | undefined;
  open: () => void | null | undefined;
  size: SurfaceSize;
  mark: SectorMark | undefined;
  setView: Dispatch<SetStateAction<SurfaceView | undefined>>;
  byTrack: Map<number, TrackMarks>;
  heads: number;
  cylinders: number;
  setCursor: Dispatch<SetStateAction<SurfacePlace | null>>;
  view: SurfaceView | undefined;
}

/** What a key makes of the view; undefined is the whole surface. */
const zoomsOf = ({
  size,
  cursor,
  mark,
}: SurfaceKeysGiven): Record<string, () => SurfaceView | undefined> => {
  const cylinder = cursor?.cylinder ?? 0;
  const angle = mark?.angle ?? 0.5;
  return {
    '+': () => zoomed(size, 0.5, { cylinder }),
    '-': () => zoomed(size, 2, { cylinder }),
    '0': () => undefined,
    '>': () => zoomed(size, 0.5, { angle }),
    '<': () => zoomed(size, 2, { angle }),
  };
};

/** Where a key leads the cursor. */
function stepsOf({
  cursor,
  byTrack,
  heads,
  cylinders,
}: SurfaceKeysGiven): Record<string, () => SurfacePlace> {
  // No sector is chosen before a sideways step: the track as a whole is, and the loupe picks what
  // is in doubt there.
  const at = cursor ?? { cylinder: 0, head: 0, sector: -1 };
  const count = byTrack.get(keyOf(at))?.sectors.length ?? 1;
  // The left half runs from the seam outward.
  const onward = at.head === 0 && heads > 1 ? -1 : 1;
  const sideways = (by: 1 | -1) => ({
    ...at,
    sector: at.sector < 0 ? (by > 0 ? 0 : count - 1) : (at.sector + by + count) % count,
  });
  return {
    ArrowUp: () => ({ ...at, cylinder: Math.max(0, at.cylinder - 1) }),
    ArrowDown: () => ({ ...at, cylinder: Math.min(cylinders - 1, at.cylinder + 1) }),
    ArrowRight: () => sideways(onward),
    ArrowLeft: () => sideways(onward === 1 ? -1 : 1),
    ' ': () => ({ ...at, head: heads > 1 ? 1 - at.head : 0 }),
  };
}

export function surfaceKeys(given: SurfaceKeysGiven) {
  const { cursor, onOpen, open, setView, setCursor, view } = given;
  return (event: KeyboardEvent) => {
    if (event.key === 'Enter' && cursor && onOpen) {
      event.preventDefault();
      return open();
    }
    const zoom = zoomsOf(given)[event.key];
    if (zoom) {
      event.preventDefault();
      event.stopPropagation();
      return setView(zoom());
    }
    const step = stepsOf(given)[event.key];
    if (!step) return;
    event.preventDefault();
    const to = step();
    setCursor(to);
    setView(withCylinder(view, to.cylinder));
  };
}
