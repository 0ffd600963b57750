'use client';
/**
 * The ribbons: every turn's intervals round the turn, one above the other, with their counts in the
 * margin on the same axis.
 */
import {
  Dispatch,
  RefObject,
  SetStateAction,
  useEffect,
  useRef,
  useState,
  type PointerEvent,
} from 'react';
import { RUNS } from '@/core/encoding';
import type { LoupeTurn } from '@/core/reading/analysis/loupe';
import { say } from '@/messages';
import { GAP, MARGIN, bandOf, paint, type RibbonsProps } from './ribbon-paint';

export function Ribbons(props: RibbonsProps) {
  const { turns, width, from, to, cellTicks, tickHz, encoding, onZoom } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [drag, setDrag] = useState<[number, number] | null>(null);
  const band = bandOf(turns.length);
  const height = Math.max(1, turns.length) * band;
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d', { alpha: false });
    if (!element || !context || width <= MARGIN) return;
    const ratio = window.devicePixelRatio || 1;
    element.width = Math.round(width * ratio);
    element.height = Math.round(height * ratio);
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    const frame = requestAnimationFrame(() => paint(context, element, props));
    return () => cancelAnimationFrame(frame);
  });
  const chart = width - MARGIN - GAP;
  const share = (event: PointerEvent) => {
    const x = (event.clientX - event.currentTarget.getBoundingClientRect().left) / chart;
    return Math.max(0, Math.min(1, x));
  };
  const end = () => {
    if (drag && Math.abs(drag[1] - drag[0]) > 0.01) {
      const [a, b] = [Math.min(...drag), Math.max(...drag)];
      onZoom(from + a * (to - from), from + b * (to - from));
    }
    setDrag(null);
  };
  const { shortest, longest } = RUNS[encoding];
  const micro = (ticks: number) => ((ticks / tickHz) * 1e6).toFixed(2);
  return (
    <figure>
      <div className="relative" style={{ height }}>
        <RibbonCanvas
          canvas={canvas}
          turns={turns}
          from={from}
          to={to}
          width={width}
          height={height}
          setDrag={setDrag}
          share={share}
          drag={drag}
          end={end}
        />
        {drag && (
          <span
            aria-hidden
            className="pointer-events-none absolute inset-y-0 border-x border-ink bg-ink/10"
            style={{ left: Math.min(...drag) * chart, width: Math.abs(drag[1] - drag[0]) * chart }}
          />
        )}
        {turns.map(({ reading, turn }, i) => (
          <RibbonName key={`${reading}.${turn}`} i={i} band={band} reading={reading} turn={turn} />
        ))}
      </div>
      <RibbonsCaption micro={micro} cellTicks={cellTicks} longest={longest} shortest={shortest} />
    </figure>
  );
}

interface RibbonCanvasProps {
  canvas: RefObject<HTMLCanvasElement | null>;
  turns: readonly LoupeTurn[];
  from: number;
  to: number;
  width: number;
  height: number;
  setDrag: Dispatch<SetStateAction<[number, number] | null>>;
  share: (event: PointerEvent) => number;
  drag: [number, number] | null;
  end: () => void;
}

function RibbonCanvas({
  canvas,
  turns,
  from,
  to,
  width,
  height,
  setDrag,
  share,
  drag,
  end,
}: RibbonCanvasProps) {
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={say.loupe.turnsIntervalsRoundThe({
        turns: turns.length,
        from: (from * 100).toFixed(1),
        to: (to * 100).toFixed(1),
      })}
      data-testid="ribbons"
      style={{ width, height }}
      className="cursor-crosshair touch-none"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setDrag([share(event), share(event)]);
      }}
      onPointerMove={(event) => drag && setDrag([drag[0], share(event)])}
      onPointerUp={end}
      onPointerCancel={() => setDrag(null)}
    />
  );
}

function RibbonName({
  i,
  band,
  reading,
  turn,
}: {
  i: number;
  band: number;
  reading: number;
  turn: number;
}) {
  return (
    <span
      aria-hidden
      className="pointer-events-none absolute left-1 bg-sheet/80 px-1 text-[11px] text-ink-2"
      style={{ top: i * band + 1 }}
    >
      {say.loupe.readingTurn({ reading: reading + 1, turn: turn + 1 })}
    </span>
  );
}

function RibbonsCaption({
  micro,
  cellTicks,
  longest,
  shortest,
}: {
  micro: (ticks: number) => string;
  cellTicks: number;
  longest: number;
  shortest: number;
}) {
  return (
    <figcaption className="mt-1 text-[12px] text-ink-2">
      {say.loupe.fittedCellSIntervals({
        cellTicks: micro(cellTicks),
        from: Array.from({ length: longest - shortest + 1 }, (_, i) =>
          micro(cellTicks * (shortest + i)),
        ).join(', '),
      })}
    </figcaption>
  );
}
