'use client';
/** A sound over its time: the wheel looks closer, a click sets from where it is played. */
import { useEffect, useMemo, useRef, useState, type MouseEvent } from 'react';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import { useChartFrame } from '../charts/use-chart-frame';
import type { Heard } from './sound-source';
import { paintWave, type Stretch } from './wave-paint';

/** The fewest frames in view, and how much closer a turn of the wheel looks. */
const FEWEST = 16;
const CLOSER = 1.25;

interface WaveChartProps {
  heard: Heard;
  /** Frame from which it is played. */
  cursor: number;
  setCursor(frame: number): void;
  isSmall: boolean;
  /** The frame that is heard now; null while it is silent. */
  playedFrame(): number | null;
}

const whole = ({ values }: Heard): Stretch => ({ from: 0, to: Math.max(FEWEST, values.length) });

/** What is in view about a frame, so many times as much as before. */
function lookedAt(view: Stretch, all: Stretch, frame: number, times: number): Stretch {
  const length = Math.min(all.to, Math.max(FEWEST, (view.to - view.from) * times));
  const share = (frame - view.from) / (view.to - view.from);
  const from = Math.max(0, Math.min(all.to - length, frame - share * length));
  return { from, to: from + length };
}

function useView(heard: Heard) {
  const [seen, setSeen] = useState(() => ({ heard, view: whole(heard) }));
  // Another sound is seen whole.
  const all = useMemo(() => whole(heard), [heard]);
  const view = seen.heard === heard ? seen.view : all;
  return [view, (next: Stretch) => setSeen({ heard, view: next })] as const;
}

export function WaveChart({ heard, cursor, setCursor, playedFrame, isSmall }: WaveChartProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const needle = useRef<HTMLDivElement>(null);
  const [view, setView] = useView(heard);
  const { width, scheme } = useChartFrame(canvas);
  useEffect(() => {
    if (width > 0) paintWave(canvas.current!, heard, view);
  }, [heard, view, width, scheme]);
  useNeedle(needle, view, playedFrame);
  useWheel(canvas, heard, view, setView);
  const click = (event: MouseEvent<HTMLCanvasElement>) => {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    const frame = view.from + ((event.clientX - left) / width) * (view.to - view.from);
    setCursor(Math.max(0, Math.min(heard.values.length - 1, Math.round(frame))));
  };
  const share = (cursor - view.from) / (view.to - view.from);
  const label = say.sounds.waveOf({ name: heard.name, frames: grouped(heard.values.length) });
  return (
    <figure>
      <div className="relative overflow-hidden border border-line">
        <canvas
          ref={canvas}
          onClick={click}
          onDoubleClick={() => setView(whole(heard))}
          className={`block w-full cursor-crosshair ${isSmall ? 'h-[96px]' : 'h-[260px]'}`}
          role="img"
          aria-label={label}
        />
        {share >= 0 && share <= 1 && (
          <div
            className="pointer-events-none absolute inset-y-0 w-px bg-ink-2"
            style={{ left: `${share * 100}%` }}
          />
        )}
        <div
          ref={needle}
          className="pointer-events-none absolute inset-y-0 w-0.5 bg-oxide"
          hidden
        />
      </div>
      <Axis view={view} rateHz={heard.rateHz} marks={isSmall ? FEW_MARKS : MARKS} />
    </figure>
  );
}

/** The place that is heard, moved without painting anew. */
function useNeedle(
  needle: React.RefObject<HTMLDivElement | null>,
  view: Stretch,
  playedFrame: () => number | null,
): void {
  useEffect(() => {
    let asked = 0;
    const move = () => {
      asked = requestAnimationFrame(move);
      const at = playedFrame();
      const own = needle.current;
      if (!own) return;
      const share = at === null ? -1 : (at - view.from) / (view.to - view.from);
      own.hidden = share < 0 || share > 1;
      own.style.left = `${share * 100}%`;
    };
    move();
    return () => cancelAnimationFrame(asked);
  });
}

/** React listens to wheels passively: the page would scroll. */
function useWheel(
  canvas: React.RefObject<HTMLCanvasElement | null>,
  heard: Heard,
  view: Stretch,
  setView: (view: Stretch) => void,
): void {
  useEffect(() => {
    const own = canvas.current!;
    const turn = (event: WheelEvent) => {
      event.preventDefault();
      const { left, width } = own.getBoundingClientRect();
      const frame = view.from + ((event.clientX - left) / width) * (view.to - view.from);
      setView(lookedAt(view, whole(heard), frame, event.deltaY > 0 ? CLOSER : 1 / CLOSER));
    };
    own.addEventListener('wheel', turn, { passive: false });
    return () => own.removeEventListener('wheel', turn);
  });
}

const MARKS = 6;
const FEW_MARKS = 3;

/** Times along the foot. */
function Axis({ view, rateHz, marks }: { view: Stretch; rateHz: number; marks: number }) {
  const span = (view.to - view.from) / rateHz;
  const digits = span > 10 ? 1 : span > 0.1 ? 3 : 5;
  return (
    <div className="flex justify-between font-mono text-[11px] text-ink-2" aria-hidden>
      {Array.from({ length: marks }, (_, i) => (
        <span key={i}>
          {say.sounds.seconds({
            seconds: (view.from / rateHz + (span * i) / (marks - 1)).toFixed(digits),
          })}
        </span>
      ))}
    </div>
  );
}
