'use client';
/**
 * The surface of a medium: a canvas, with a cursor for the keyboard and a table as its twin for
 * screen readers.
 */
import {
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import type { Difference } from '@/core/reading/analysis/compare';
import { saveSurface } from './surface-file';
import {
  surfaceBars,
  surfaceScales,
  trackAt,
  viewOf,
  withCylinder,
  zoomed,
  type SurfaceSize,
  type SurfaceView,
} from './surface-layout';
import {
  OVERLAYS,
  OVERLAY_WORDS,
  overlayScale,
  type Overlay,
  type OverlayScale,
} from './surface-overlay';
import { coloursOf, paintSurface, paintTrack } from './surface-paint';
import { useChartFrame } from './use-chart-frame';
import { Legend, TwinTable } from './surface-table';

interface SurfaceChartProps {
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

interface Painted {
  size: SurfaceSize;
  differences: SurfaceChartProps['differences'];
  overlay: OverlayScale;
  scheme: string;
  byTrack: Map<number, TrackMarks>;
  active: number;
}

const keyOf = ({ cylinder, head }: { cylinder: number; head: number }) => cylinder * 2 + head;

/** Keeps what drawing cost where `npm run bench -- pages` reads it. */
function measured(canvas: HTMLCanvasElement, paint: () => void): void {
  const start = performance.now();
  paint();
  const spent = performance.now() - start;
  canvas.dataset.frames = String(Number(canvas.dataset.frames ?? 0) + 1);
  canvas.dataset.longestMs = String(Math.max(Number(canvas.dataset.longestMs ?? 0), spent));
}

function describe(mark: SectorMark): string {
  const how = mark.mending ? `, by ${mark.mending.replaceAll('-', ' ')}` : '';
  return (
    `sector ${mark.r}: ` +
    (`${mark.grade}${how}` +
      `${mark.seen > 0 ? `; read right in ${mark.seenSound} of ${mark.seen} turns` : ''}` +
      `${mark.deleted ? '; deleted-data mark' : ''}`)
  );
}

export function SurfaceChart({
  tracks,
  cylinders,
  heads,
  height,
  active = null,
  onOpen,
  differences = null,
  name = 'surface',
}: SurfaceChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const painted = useRef<Painted | null>(null);
  const { width, scheme } = useChartFrame(canvas);
  const [cursor, setCursor] = useState<{ cylinder: number; head: number; sector: number } | null>(
    null,
  );
  const [view, setView] = useState<SurfaceView | undefined>(undefined);
  const [wanted, setWanted] = useState<Overlay>('grade');
  const [asTable, setAsTable] = useState(false);
  const id = useId();
  const size = useMemo<SurfaceSize>(
    () => ({ width, height, cylinders, heads, view }),
    [width, height, cylinders, heads, view],
  );
  const overlay = useMemo(
    () =>
      overlayScale(
        wanted === 'differences' && !differences ? 'grade' : wanted,
        tracks,
        differences,
      ),
    [wanted, tracks, differences],
  );
  const byTrack = useMemo(() => new Map(tracks.map((track) => [keyOf(track), track])), [tracks]);

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
          const ratio = window.devicePixelRatio || 1;
          const [wide, high] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
          if (element.width !== wide) element.width = wide;
          if (element.height !== high) element.height = high;
          context.setTransform(ratio, 0, 0, ratio, 0, 0);
          paintSurface(context, size, picture, colours);
        } else {
          // Only what changed: a track that came in costs a fraction of a millisecond.
          const changed = new Set<number>();
          for (const [key, track] of byTrack)
            if (before.byTrack.get(key) !== track) changed.add(key);
          if (before.active !== now.active) {
            changed.add(before.active);
            changed.add(now.active);
          }
          for (const key of changed)
            if (key >= 0) paintTrack(context, size, picture, colours, key >> 1, key & 1);
        }
        painted.current = now;
      }),
    );
    return () => cancelAnimationFrame(frame);
  }, [tracks, byTrack, active, size, scheme, width, overlay, differences]);

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
  }, [size]);

  const under = cursor && byTrack.get(keyOf(cursor));
  const mark = under && cursor.sector >= 0 ? under.sectors[cursor.sector] : undefined;
  const open = () => cursor && onOpen?.({ ...cursor, sector: mark?.r });

  const point = (event: PointerEvent<HTMLCanvasElement>) => {
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

  const move = (event: KeyboardEvent) => {
    if (event.key === 'Enter' && cursor && onOpen) {
      event.preventDefault();
      return open();
    }
    const zooms: Record<string, () => SurfaceView | undefined> = {
      '+': () => zoomed(size, 0.5, { cylinder: cursor?.cylinder ?? 0 }),
      '-': () => zoomed(size, 2, { cylinder: cursor?.cylinder ?? 0 }),
      '0': () => undefined,
      '>': () => zoomed(size, 0.5, { angle: mark?.angle ?? 0.5 }),
      '<': () => zoomed(size, 2, { angle: mark?.angle ?? 0.5 }),
    };
    const zoom = zooms[event.key];
    if (zoom) {
      event.preventDefault();
      event.stopPropagation();
      return setView(zoom());
    }
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
    const steps: Record<string, () => typeof at> = {
      ArrowUp: () => ({ ...at, cylinder: Math.max(0, at.cylinder - 1) }),
      ArrowDown: () => ({ ...at, cylinder: Math.min(cylinders - 1, at.cylinder + 1) }),
      ArrowRight: () => sideways(onward),
      ArrowLeft: () => sideways(onward === 1 ? -1 : 1),
      ' ': () => ({ ...at, head: heads > 1 ? 1 - at.head : 0 }),
    };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    const to = step();
    setCursor(to);
    setView(withCylinder(view, to.cylinder));
  };

  const { y } = surfaceScales(size);
  const { firstCylinder, lastCylinder } = viewOf(size);
  const numbered =
    lastCylinder - firstCylinder < 24 ? (lastCylinder - firstCylinder < 12 ? 1 : 2) : 10;
  const save = (kind: 'png' | 'svg') =>
    void saveSurface(
      kind,
      name,
      { tracks, active: null, overlay },
      { ...size, view: undefined },
      coloursOf(canvas.current!),
    );
  const cursorBar =
    under && mark ? surfaceBars([{ ...under, sectors: [mark] }], size, tracks)[0] : undefined;
  return (
    <figure>
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
        <fieldset className="flex items-center gap-1">
          <legend className="sr-only">Shown on the surface</legend>
          {OVERLAYS.filter((each) => each !== 'differences' || differences).map((each) => (
            <button
              key={each}
              type="button"
              aria-pressed={overlay.overlay === each}
              onClick={() => setWanted(each)}
              className={
                'rounded-sm border border-line px-2 py-0.5 hover:border-ink-3 ' +
                'aria-pressed:border-oxide aria-pressed:bg-oxide-wash aria-pressed:font-[650]'
              }
            >
              {OVERLAY_WORDS[each]}
            </button>
          ))}
        </fieldset>
        {overlay.legend.length > 0 && <Legend overlay={overlay} scheme={scheme} />}
        <span className="ml-auto flex items-center gap-3 text-ink-2">
          {view && (
            <button
              type="button"
              onClick={() => setView(undefined)}
              className="text-oxide underline"
            >
              whole chart
            </button>
          )}
          <button
            type="button"
            aria-pressed={asTable}
            onClick={() => setAsTable(!asTable)}
            className="underline hover:text-ink"
          >
            as a table
          </button>
          <button type="button" onClick={() => save('png')} className="underline hover:text-ink">
            PNG
          </button>
          <button type="button" onClick={() => save('svg')} className="underline hover:text-ink">
            SVG
          </button>
        </span>
      </div>
      <div className="mb-1 flex justify-between text-[13px] text-ink-2" aria-hidden>
        {heads > 1 ? (
          <>
            <span>a full turn</span>
            <span>½</span>
            <b className="text-ink">head 0</b>
            <span className="w-6" />
            <b className="text-ink">head 1</b>
            <span>½</span>
            <span>a full turn</span>
          </>
        ) : (
          <>
            <b className="text-ink">head 0</b>
            <span>½</span>
            <span>a full turn</span>
          </>
        )}
      </div>
      <div className="relative mb-2" style={{ height }}>
        <canvas
          ref={canvas}
          tabIndex={0}
          role="img"
          aria-label="Surface: one band a cylinder, outermost on top"
          aria-describedby={`${id}-cursor`}
          data-testid="surface"
          style={{ width: '100%', height }}
          onPointerMove={point}
          onPointerLeave={() => setCursor(null)}
          onClick={open}
          onKeyDown={move}
          className={onOpen ? 'cursor-pointer' : ''}
        />
        {width > 0 &&
          Array.from({ length: lastCylinder - firstCylinder + 1 }, (_, i) => firstCylinder + i)
            .filter(
              (cylinder) =>
                cylinder % numbered === 0 ||
                cylinder === lastCylinder ||
                cylinder === active?.cylinder,
            )
            .map((cylinder) => (
              <span
                key={cylinder}
                aria-hidden
                className={
                  'pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 px-0.5 text-[12px] ' +
                  `${cylinder === active?.cylinder ? 'z-10 bg-ground text-[14px] font-[650] text-oxide' : 'text-ink-2'}`
                }
                style={{ left: heads > 1 ? '50%' : 20, top: y(cylinder)! + y.bandwidth() / 2 }}
              >
                {cylinder}
              </span>
            ))}
        {cursorBar && (
          <span
            aria-hidden
            className="pointer-events-none absolute border-2 border-ink"
            style={{
              left: cursorBar.x - 2,
              top: cursorBar.y - 2,
              width: cursorBar.width + 4,
              height: cursorBar.height + 4,
            }}
          />
        )}
      </div>
      <figcaption
        id={`${id}-cursor`}
        aria-live="polite"
        className="mt-1 h-5 truncate text-[13px] text-ink-2"
      >
        {cursor
          ? `Cylinder ${cursor.cylinder}, head ${cursor.head}${
              mark
                ? `, ${describe(mark)}`
                : under
                  ? `, ${under.sectors.length} sectors, ${under.tries} ` +
                    `${under.tries === 1 ? 'reading' : 'readings'}`
                  : ', not read yet'
            }`
          : 'Point at a sector, or use the arrow keys and the space bar, to see what is ' +
            `known of it.${onOpen ? ' A click, or Enter, opens its track.' : ''} + and − ` +
            'look closer, < and > along the turn, 0 shows all; or Ctrl and Shift with the ' +
            'wheel.'}
      </figcaption>
      <TwinTable tracks={tracks} shown={asTable} />
    </figure>
  );
}
