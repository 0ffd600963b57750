'use client';
/**
 * The room on a volume as a ruler in its own units: every file where it counts, what is free at the
 * end.
 */
import { ScaleLinear, scaleLinear } from 'd3';
import { grouped } from '@/core/text/grouped';
import { markEvery, stretchesOf, type RulerEntry } from './ruler-layout';
import { say } from '@/messages';

const WIDTH = 1000;
const BAND = 34;

function fill(change: string | null): string {
  if (change === null) return 'var(--grade-firm)';
  if (change === 'other-content') return 'url(#ruler-other)';
  return change === 'new' ? 'var(--oxide)' : 'var(--grade-mended)';
}

interface CapacityRulerProps {
  room: { unit: string; total: number; free: number };
  entries: readonly RulerEntry[];
  chosen: string | null;
  onChoose: (path: string) => void;
}

export function CapacityRuler({ room, entries, chosen, onChoose }: CapacityRulerProps) {
  const x = scaleLinear([0, Math.max(1, room.total)], [0, WIDTH]);
  const every = markEvery(room.total);
  const marks = Array.from({ length: Math.floor(room.total / every) + 1 }, (_, i) => i * every);
  const used = room.total - room.free;
  return (
    <figure data-testid="capacity" data-used={used} data-free={room.free} className="mb-4">
      <RulerBand
        used={used}
        room={room}
        entries={entries}
        x={x}
        chosen={chosen}
        onChoose={onChoose}
      />
      <RulerMarks marks={marks} room={room} every={every} />
    </figure>
  );
}

interface RulerStretchProps {
  x: ScaleLinear<number, number, never>;
  from: number;
  path: string | null;
  chosen: string | null;
  to: number;
  change: string | null;
  onChoose: (path: string) => void;
  room: { unit: string; total: number; free: number };
}

interface RulerBandProps {
  used: number;
  room: CapacityRulerProps['room'];
  entries: readonly RulerEntry[];
  x: ScaleLinear<number, number, never>;
  chosen: string | null;
  onChoose: (path: string) => void;
}

function RulerBand({ used, room, entries, x, chosen, onChoose }: RulerBandProps) {
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${BAND}`}
      preserveAspectRatio="none"
      className="block h-[42px] w-full border border-line bg-sheet"
      role="img"
      aria-label={say.assemblies.ofSAreUsed({
        used: grouped(used),
        total: grouped(room.total),
        unit: room.unit,
        free: grouped(room.free),
      })}
    >
      <RulerPatterns />
      {stretchesOf(room, entries).map(({ path, change, from, to }) => (
        <RulerStretch
          key={path ?? 'own'}
          x={x}
          from={from}
          path={path}
          chosen={chosen}
          to={to}
          change={change}
          onChoose={onChoose}
          room={room}
        />
      ))}
    </svg>
  );
}

function RulerStretch({ x, from, path, chosen, to, change, onChoose, room }: RulerStretchProps) {
  return (
    <rect
      x={x(from)}
      y={path !== null && path === chosen ? 0 : 4}
      width={Math.max(0.6, x(to) - x(from) - 0.8)}
      height={path !== null && path === chosen ? BAND : BAND - 8}
      fill={path === null ? 'url(#ruler-own)' : fill(change)}
      stroke={path !== null && path === chosen ? 'var(--ink)' : 'none'}
      vectorEffect="non-scaling-stroke"
      className={path === null ? '' : 'cursor-pointer'}
      onClick={path === null ? undefined : () => onChoose(path)}
    >
      <title>
        {say.assemblies.stretchOf({
          what: path ?? say.assemblies.itsOwn,
          units: to - from,
          unit: room.unit,
        })}
      </title>
    </rect>
  );
}

function RulerPatterns() {
  return (
    <defs>
      <pattern
        id="ruler-other"
        width="6"
        height="6"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <rect width="6" height="6" fill="var(--oxide-wash)" />
        <rect width="3" height="6" fill="var(--oxide)" />
      </pattern>
      <pattern id="ruler-own" width="5" height="5" patternUnits="userSpaceOnUse">
        <rect width="5" height="5" fill="var(--sunk)" />
        <rect width="1" height="5" fill="var(--ink-3)" />
      </pattern>
    </defs>
  );
}

interface RulerMarksProps {
  marks: number[];
  room: { unit: string; total: number; free: number };
  every: number;
}

function RulerMarks({ marks, room, every }: RulerMarksProps) {
  return (
    <div className="relative h-[18px] text-[11px] text-ink-2" aria-hidden>
      {marks.map((mark) => (
        <span
          key={mark}
          className="absolute top-0 border-l border-ink-3 pl-1"
          style={{ left: `${(100 * mark) / Math.max(1, room.total)}%` }}
        >
          {room.total - mark > every * 0.6 || mark === 0 ? grouped(mark) : ''}
        </span>
      ))}
      <span className="absolute right-0 top-0 bg-ground pl-1">
        {say.assemblies.s({ total: grouped(room.total), unit: room.unit })}
      </span>
    </div>
  );
}
