'use client';
/**
 * The surface of a linear device, at any zoom: a canvas, with a cursor for the keyboard and a table
 * as its twin for screen readers.
 */
import {
  Dispatch,
  RefObject,
  SetStateAction,
  useEffect,
  useId,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import { grouped } from '@/core/text/grouped';
import {
  bandScales,
  blockAt,
  extentAt,
  nextOdd,
  zoomedView,
  type BlockSurfaceSize,
  type BlockView,
  type PackedExtent,
} from './block-surface-layout';
import { coloursOf } from '../surface-paint';
import { useChartFrame } from '../use-chart-frame';
import { TwinTable } from './block-surface-table';
import { paint } from './block-surface-paint';
import { type Shown, type BlockSurfaceChartProps } from './block-surface-props';
import { say } from '@/messages';
import { ScaleLinear, ScaleBand } from 'd3';
import { BlockTools } from './block-surface-tools';
import { BlockCursor } from './block-cursor';

export function BlockSurfaceChart({
  extents,
  blocks,
  blockBytes,
  height,
  active = null,
  filesOn,
}: BlockSurfaceChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, scheme } = useChartFrame(canvas);
  const [view, setView] = useState<BlockView | null>(null);
  const [shown, setShown] = useState<Shown>('grade');
  const [cursor, setCursor] = useState<number | null>(null);
  const [asTable, setAsTable] = useState(false);
  const id = useId();
  const size = useMemo<BlockSurfaceSize>(
    () => ({ width, height, view: view ?? { from: 0, to: blocks } }),
    [width, height, view, blocks],
  );

  usePainting(canvas, width, size, extents, shown, scheme);

  const zoom = (factor: number, around = cursor ?? size.view.from) =>
    setView((was) => zoomedView(was ?? { from: 0, to: blocks }, factor, around, blocks));
  useWheelZoom(canvas, size, setView, blocks);

  const point = ({ clientX, clientY, currentTarget }: PointerEvent<HTMLCanvasElement>) => {
    const box = currentTarget.getBoundingClientRect();
    setCursor(blockAt(clientX - box.left, clientY - box.top, size));
  };
  const { span, bands, x, y } = bandScales(size);
  const goTo = (block: number) => {
    const to = Math.max(0, Math.min(blocks - 1, block));
    setCursor(to);
    if (view && (to < view.from || to >= view.to)) setView(zoomedView(view, 1, to, blocks));
  };
  const move = blockKeys(cursor, size, goTo, extents, span, zoom, setView, bands);

  const inView =
    cursor !== null && cursor >= size.view.from && cursor < size.view.to
      ? cursor - size.view.from
      : null;
  const extent = cursor === null ? null : extentAt(extents, cursor);
  const files =
    cursor !== null && filesOn ? filesOn(extent?.[0] ?? cursor, extent?.[1] ?? cursor + 1) : [];
  return (
    <figure>
      <BlockTools
        shown={shown}
        setShown={setShown}
        span={span}
        blockBytes={blockBytes}
        view={view}
        setView={setView}
        asTable={asTable}
        setAsTable={setAsTable}
      />
      <BlockSurface
        height={height}
        canvas={canvas}
        id={id}
        point={point}
        setCursor={setCursor}
        cursor={cursor}
        zoom={zoom}
        bands={bands}
        size={size}
        span={span}
        move={move}
        width={width}
        x={x}
        y={y}
        active={active}
        inView={inView}
      />
      <BlockCursor id={id} cursor={cursor} extent={extent} files={files} />
      <TwinTable extents={extents} blocks={blocks} shown={asTable} filesOn={filesOn} />
    </figure>
  );
}

interface BlockSurfaceProps {
  height: number;
  canvas: RefObject<HTMLCanvasElement | null>;
  id: string;
  point: ({ clientX, clientY, currentTarget }: PointerEvent<HTMLCanvasElement>) => void;
  setCursor: Dispatch<SetStateAction<number | null>>;
  cursor: number | null;
  zoom: (factor: number, around?: number) => void;
  bands: number;
  size: BlockSurfaceSize;
  span: number;
  move: (event: KeyboardEvent) => void;
  width: number;
  x: ScaleLinear<number, number, never>;
  y: ScaleBand<number>;
  active: number | null;
  inView: number | null;
}

function BlockSurface({
  height,
  canvas,
  id,
  point,
  setCursor,
  cursor,
  zoom,
  bands,
  size,
  span,
  move,
  width,
  x,
  y,
  active,
  inView,
}: BlockSurfaceProps) {
  return (
    <div className="relative mb-2" style={{ height }}>
      <canvas
        ref={canvas}
        tabIndex={0}
        role="img"
        aria-label={say.charts.surfaceOfTheDevice}
        aria-describedby={`${id}-cursor`}
        data-testid="block-surface"
        style={{ width: '100%', height }}
        onPointerMove={point}
        onPointerLeave={() => setCursor(null)}
        onClick={() =>
          cursor !== null && zoom(1 / bands, cursor - ((cursor - size.view.from) % span) + span / 2)
        }
        onKeyDown={move}
        className="cursor-zoom-in"
      />
      {width > 0 &&
        Array.from({ length: bands }, (_, band) => (
          <BandNumbers key={band} x={x} y={y} band={band} size={size} span={span} />
        ))}
      {active !== null && active >= size.view.from && active < size.view.to && width > 0 && (
        <Mark at={active - size.view.from} span={span} x={x} y={y} className="bg-oxide" />
      )}
      {inView !== null && width > 0 && (
        <Mark at={inView} span={span} x={x} y={y} className="bg-ink" />
      )}
    </div>
  );
}

function BandNumbers({
  x,
  y,
  band,
  size,
  span,
}: {
  x: ScaleLinear<number, number, never>;
  y: ScaleBand<number>;
  band: number;
  size: BlockSurfaceSize;
  span: number;
}) {
  return (
    <span
      aria-hidden
      className="pointer-events-none absolute left-0 -translate-y-1/2 text-right text-[12px] text-ink-2"
      style={{ width: x.range()[0]! - 10, top: y(band)! + y.bandwidth() / 2 }}
    >
      {grouped(size.view.from + band * span)}
    </span>
  );
}

function usePainting(
  canvas: RefObject<HTMLCanvasElement | null>,
  width: number,
  size: BlockSurfaceSize,
  extents: readonly PackedExtent[],
  shown: Shown,
  scheme: string,
) {
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d', { alpha: false });
    if (!element || !context || width === 0) return;
    const frame = requestAnimationFrame(() => {
      const ratio = window.devicePixelRatio || 1;
      element.width = Math.round(size.width * ratio);
      element.height = Math.round(size.height * ratio);
      context.setTransform(ratio, 0, 0, ratio, 0, 0);
      paint(context, size, extents, shown, coloursOf(element));
    });
    return () => cancelAnimationFrame(frame);
  }, [canvas, extents, size, width, shown, scheme]);
}

function useWheelZoom(
  canvas: RefObject<HTMLCanvasElement | null>,
  size: BlockSurfaceSize,
  setView: Dispatch<SetStateAction<BlockView | null>>,
  blocks: number,
) {
  useEffect(() => {
    const element = canvas.current!;
    // Not through React, whose wheel events can't be kept from scrolling the page.
    const wheel = (event: WheelEvent) => {
      const block = event.ctrlKey ? blockAt(event.offsetX, event.offsetY, size) : null;
      if (block === null) return;
      event.preventDefault();
      setView(zoomedView(size.view, event.deltaY < 0 ? 0.6 : 1 / 0.6, block, blocks));
    };
    element.addEventListener('wheel', wheel, { passive: false });
    return () => element.removeEventListener('wheel', wheel);
  }, [canvas, size, blocks, setView]);
}

function blockKeys(
  cursor: number | null,
  size: BlockSurfaceSize,
  goTo: (block: number) => void,
  extents: readonly PackedExtent[],
  span: number,
  zoom: (factor: number, around?: number) => void,
  setView: Dispatch<SetStateAction<BlockView | null>>,
  bands: number,
) {
  return (event: KeyboardEvent) => {
    const at = cursor ?? size.view.from;
    const keys: Record<string, () => void> = {
      ArrowRight: () => goTo(nextOdd(extents, at, true)?.[0] ?? at),
      ArrowLeft: () => goTo(nextOdd(extents, at, false)?.[0] ?? at),
      ArrowDown: () => goTo(at + span),
      ArrowUp: () => goTo(at - span),
      '+': () => zoom(0.25),
      '-': () => zoom(4),
      '0': () => setView(null),
      Enter: () => zoom(1 / bands, at - ((at - size.view.from) % span) + span / 2),
    };
    const act = keys[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  };
}

/** A stroke over a band where a block lies. */
function Mark({
  at,
  span,
  x,
  y,
  className,
}: { at: number; span: number; className: string } & Pick<
  ReturnType<typeof bandScales>,
  'x' | 'y'
>) {
  const band = Math.floor(at / span);
  return (
    <span
      aria-hidden
      className={`pointer-events-none absolute w-[2px] ${className}`}
      style={{ left: x(at - band * span) - 1, top: y(band)! - 3, height: y.bandwidth() + 6 }}
    />
  );
}
