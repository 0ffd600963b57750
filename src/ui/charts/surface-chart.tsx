'use client';
/**
 * The surface of a medium: a canvas, with a cursor for the keyboard and a table as its twin for
 * screen readers.
 */
import { ChoiceButton } from '../parts/choice-button';
import {
  Dispatch,
  KeyboardEvent,
  PointerEvent,
  RefObject,
  SetStateAction,
  useId,
  useMemo,
  useRef,
  useState,
} from 'react';
import { saveSurface } from './surface-file';
import {
  surfaceBars,
  surfaceScales,
  viewOf,
  type SurfaceSize,
  type SurfaceView,
  type SurfacePlace,
  SurfaceBar,
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
  const [cursor, setCursor] = useState<SurfacePlace | null>(null);
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
        height={height}
        canvas={canvas}
        id={id}
        point={point}
        setCursor={setCursor}
        open={open}
        move={move}
        onOpen={onOpen}
        width={width}
        lastCylinder={lastCylinder}
        firstCylinder={firstCylinder}
        numbered={numbered}
        active={active}
        heads={heads}
        y={y}
        cursorBar={cursorBar}
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
  height: number;
  canvas: RefObject<HTMLCanvasElement | null>;
  id: string;
  point: (event: PointerEvent<HTMLCanvasElement>) => void;
  setCursor: Dispatch<SetStateAction<SurfacePlace | null>>;
  open: () => void | null | undefined;
  move: (event: KeyboardEvent) => void | null;
  onOpen: SurfaceChartProps['onOpen'];
  width: number;
  lastCylinder: number;
  firstCylinder: number;
  numbered: number;
  active: { cylinder: number; head: number } | null;
  heads: number;
  y: ScaleBand<number>;
  cursorBar: SurfaceBar | undefined;
}

function SurfacePicture({
  height,
  canvas,
  id,
  point,
  setCursor,
  open,
  move,
  onOpen,
  width,
  lastCylinder,
  firstCylinder,
  numbered,
  active,
  heads,
  y,
  cursorBar,
}: SurfacePictureProps) {
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
            <CylinderNumber
              key={cylinder}
              cylinder={cylinder}
              active={active}
              heads={heads}
              y={y}
            />
          ))}
      {cursorBar && <CursorFrame cursorBar={cursorBar} />}
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
