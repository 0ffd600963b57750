'use client';
/**
 * The surface of a medium: a canvas, with a cursor for the keyboard and a table as its twin for
 * screen readers.
 */
import { ChoiceButton } from '../parts/choice-button';
import { Dispatch, RefObject, SetStateAction, useId, useMemo, useRef, useState } from 'react';
import { saveSurface } from './surface-file';
import {
  surfaceBars,
  surfaceScales,
  viewOf,
  type SurfaceSize,
  type SurfaceView,
  type SurfacePlace,
} from './surface-layout';
import {
  OVERLAYS,
  OVERLAY_WORDS,
  OverlayScale,
  overlayScale,
  type Overlay,
} from './surface-overlay';
import { coloursOf } from './surface-paint';
import { useChartFrame } from './use-chart-frame';
import { Legend, TwinTable } from './surface-table';
import { SurfaceTools, TurnScale, CursorFrame, SurfaceCursor } from './surface-tools';
import { useWheelZoom, surfacePointer, surfaceKeys } from './use-surface-hands';
import { useSurfacePainting } from './use-surface-painting';
import { type Painted, keyOf } from './painted-surface';
import type { SurfaceChartProps } from './surface-chart-props';
import { say } from '@/messages';
import { ScaleBand } from 'd3';

/** What is shown on the surface: a part of it, and one of the overlays. */
function useShown(
  { tracks, cylinders, heads, height, differences = null }: SurfaceChartProps,
  width: number,
) {
  const [view, setView] = useState<SurfaceView | undefined>(undefined);
  const [wanted, setWanted] = useState<Overlay>('grade');
  const size = useMemo<SurfaceSize>(
    () => ({ width, height, cylinders, heads, view }),
    [width, height, cylinders, heads, view],
  );
  const overlay = useMemo(() => {
    const there = wanted === 'differences' && !differences ? 'grade' : wanted;
    return overlayScale(there, tracks, differences);
  }, [wanted, tracks, differences]);
  const byTrack = useMemo(() => new Map(tracks.map((track) => [keyOf(track), track])), [tracks]);
  return { view, setView, setWanted, size, overlay, byTrack };
}

/** The sector under the cursor, and what the pointer and the keys do with it. */
function useCursor(
  { tracks, cylinders, heads, onOpen }: SurfaceChartProps,
  { view, setView, size, byTrack }: ReturnType<typeof useShown>,
) {
  const [cursor, setCursor] = useState<SurfacePlace | null>(null);
  const under = cursor && byTrack.get(keyOf(cursor));
  const mark = under && cursor.sector >= 0 ? under.sectors[cursor.sector] : undefined;
  const open = () => cursor && onOpen?.({ ...cursor, sector: mark?.r });
  const point = surfacePointer(size, setCursor, byTrack, tracks);
  const move = surfaceKeys({
    cursor,
    onOpen,
    open,
    size,
    mark,
    setView,
    byTrack,
    heads,
    cylinders,
    setCursor,
    view,
  });
  const bar =
    under && mark ? surfaceBars([{ ...under, sectors: [mark] }], size, tracks)[0] : undefined;
  return { cursor, setCursor, under, mark, open, point, move, bar };
}

export function SurfaceChart(props: SurfaceChartProps) {
  const { tracks, heads, height, active = null, onOpen, differences = null } = props;
  const { name = 'surface' } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const painted = useRef<Painted | null>(null);
  const { width, scheme } = useChartFrame(canvas);
  const [asTable, setAsTable] = useState(false);
  const id = useId();
  const shown = useShown(props, width);
  const { view, setView, setWanted, size, overlay, byTrack } = shown;
  useSurfacePainting({
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
  });
  useWheelZoom(canvas, size, setView);
  const hands = useCursor(props, shown);
  const { cursor, mark, under } = hands;
  const save = (kind: 'png' | 'svg') =>
    void saveSurface(
      kind,
      name,
      { tracks, active: null, overlay },
      { ...size, view: undefined },
      coloursOf(canvas.current!),
    );
  return (
    <figure>
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]">
        <OverlayChoice differences={differences} overlay={overlay} setWanted={setWanted} />
        {overlay.legend.length > 0 && <Legend overlay={overlay} scheme={scheme} />}
        <SurfaceTools
          view={view}
          setView={setView}
          asTable={asTable}
          setAsTable={setAsTable}
          save={save}
        />
      </div>
      <TurnHead heads={heads} />
      <SurfacePicture
        canvas={canvas}
        id={id}
        height={height}
        size={size}
        active={active}
        hands={hands}
        isOpenable={onOpen !== undefined}
      />
      <SurfaceCursor id={id} cursor={cursor} mark={mark} under={under} onOpen={onOpen} />
      <TwinTable tracks={tracks} shown={asTable} />
    </figure>
  );
}

interface OverlayChoiceProps {
  differences: ReadonlyMap<
    string,
    'same' | 'differ' | 'first-only' | 'second-only' | 'neither'
  > | null;
  overlay: OverlayScale;
  setWanted: Dispatch<SetStateAction<'grade' | 'tries' | 'timing' | 'pass' | 'differences'>>;
}

interface SurfacePictureProps {
  canvas: RefObject<HTMLCanvasElement | null>;
  id: string;
  height: number;
  size: SurfaceSize;
  active: SurfaceChartProps['active'];
  hands: ReturnType<typeof useCursor>;
  isOpenable: boolean;
}

/** Cylinders whose numbers find room: the fewer the more there are, and always the one at work. */
function numberedCylinders(size: SurfaceSize, active: SurfaceChartProps['active']): number[] {
  const { firstCylinder, lastCylinder } = viewOf(size);
  const count = lastCylinder - firstCylinder;
  const every = count < 12 ? 1 : count < 24 ? 2 : 10;
  return Array.from({ length: count + 1 }, (_, i) => firstCylinder + i).filter(
    (cylinder) =>
      cylinder % every === 0 || cylinder === lastCylinder || cylinder === active?.cylinder,
  );
}

function SurfacePicture({
  canvas,
  id,
  height,
  size,
  active,
  hands: { point, setCursor, open, move, bar },
  isOpenable,
}: SurfacePictureProps) {
  const { y } = surfaceScales(size);
  return (
    <div className="relative mb-2" style={{ height }}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        aria-label={say.charts.surfaceOneBandA}
        aria-describedby={`${id}-cursor`}
        data-testid="surface"
        style={{ width: '100%', height }}
        onPointerMove={point}
        onPointerLeave={() => setCursor(null)}
        onClick={open}
        onKeyDown={move}
        className={isOpenable ? 'cursor-pointer' : ''}
      />
      {size.width > 0 &&
        numberedCylinders(size, active).map((cylinder) => (
          <CylinderNumber
            key={cylinder}
            cylinder={cylinder}
            active={active ?? null}
            heads={size.heads}
            y={y}
          />
        ))}
      {bar && <CursorFrame cursorBar={bar} />}
    </div>
  );
}

function OverlayChoice({ differences, overlay, setWanted }: OverlayChoiceProps) {
  return (
    <fieldset className="flex items-center gap-1">
      <legend className="sr-only">{say.charts.shownOnTheSurface}</legend>
      {OVERLAYS.filter((each) => each !== 'differences' || differences).map((each) => (
        <ChoiceButton
          key={each}
          isChosen={overlay.overlay === each}
          onChoose={() => setWanted(each)}
        >
          {OVERLAY_WORDS[each]}
        </ChoiceButton>
      ))}
    </fieldset>
  );
}

function TurnHead({ heads }: { heads: number }) {
  return (
    <div className="mb-1 flex justify-between text-[13px] text-ink-2" aria-hidden>
      {heads > 1 ? (
        <TurnScale />
      ) : (
        <>
          <b className="text-ink">{say.charts.head0}</b>
          <span>½</span>
          <span>{say.charts.aFullTurn}</span>
        </>
      )}
    </div>
  );
}

function CylinderNumber({
  cylinder,
  active,
  heads,
  y,
}: {
  cylinder: number;
  active: { cylinder: number; head: number } | null;
  heads: number;
  y: ScaleBand<number>;
}) {
  return (
    <span
      aria-hidden
      className={
        'pointer-events-none absolute -translate-x-1/2 -translate-y-1/2 px-0.5 text-[12px] ' +
        `${cylinder === active?.cylinder ? 'z-10 bg-ground text-[14px] font-[650] text-oxide' : 'text-ink-2'}`
      }
      style={{ left: heads > 1 ? '50%' : 20, top: y(cylinder)! + y.bandwidth() / 2 }}
    >
      {cylinder}
    </span>
  );
}
