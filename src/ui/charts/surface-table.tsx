'use client';
/** The surface as a table, for those who do not see it; its key; and a sitting in one line. */
import { GRADE_WORDS } from '@/messages/names';
import { useEffect, useRef, useState } from 'react';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import { STEPS, type OverlayScale } from './surface-overlay';
import { coloursOf } from './surface-paint';
import { say } from '@/messages';
import { SectorMark } from '@/core/reading/sector-mark';

/** What each step of lightness means. */
export function Legend({ overlay, scheme }: { overlay: OverlayScale; scheme: string }) {
  const list = useRef<HTMLUListElement>(null);
  const [steps, setSteps] = useState<string[]>([]);
  useEffect(() => {
    const frame = requestAnimationFrame(() => setSteps(coloursOf(list.current!).steps));
    return () => cancelAnimationFrame(frame);
  }, [scheme]);
  return (
    <ul ref={list} className="flex gap-3 text-[12px] text-ink-2">
      {overlay.legend.map((text, i) => (
        <li key={text} className="flex items-center gap-1.5">
          <span
            className="size-3 border border-line"
            style={{
              background:
                steps[Math.round((i * (STEPS - 1)) / Math.max(1, overlay.legend.length - 1))],
            }}
          />
          {text}
        </li>
      ))}
    </ul>
  );
}

/**
 * The chart as a table, for those who do not see it and for those who want figures: tracks with
 * anything but firm sectors, or every sector.
 */
export function TwinTable({ tracks, shown }: { tracks: readonly TrackMarks[]; shown: boolean }) {
  const odd = tracks.filter(({ sectors }) => sectors.some(({ grade }) => grade !== 'firm'));
  const inOrder = [...odd].sort((a, b) => a.cylinder - b.cylinder || a.head - b.head);
  return (
    <div
      tabIndex={shown ? 0 : undefined}
      role="group"
      aria-label={say.charts.surfaceAsATable}
      className={shown ? 'mt-2 max-h-[320px] overflow-auto border border-line' : 'sr-only'}
    >
      <table className="w-full border-collapse text-[13px]" data-testid="surface-table">
        <caption className="px-2 py-1 text-left text-ink-2">
          {say.charts.tracksReadOfThem({
            tracks: tracks.length,
            tracks2: tracks.length - odd.length,
          })}
        </caption>
        <TrackHead />
        <TrackRows inOrder={inOrder} />
      </table>
    </div>
  );
}

function TrackRows({ inOrder }: { inOrder: TrackMarks[] }) {
  return (
    <tbody>
      {inOrder.map(({ cylinder, head, tries, sectors }) => (
        <TrackRow
          key={cylinder * 2 + head}
          cylinder={cylinder}
          head={head}
          tries={tries}
          sectors={sectors}
        />
      ))}
    </tbody>
  );
}

function TrackHead() {
  return (
    <thead>
      <tr className="border-b border-line">
        <th className="px-2">{say.charts.cylinder}</th>
        <th>{say.charts.head}</th>
        <th>{say.charts.readings}</th>
        <th>{say.charts.sectorsThatAreNot}</th>
      </tr>
    </thead>
  );
}

interface TrackRowProps {
  cylinder: number;
  head: number;
  tries: number;
  sectors: SectorMark[];
}

function TrackRow({ cylinder, head, tries, sectors }: TrackRowProps) {
  return (
    <tr className="border-b border-line">
      <td className="px-2">{cylinder}</td>
      <td>{head}</td>
      <td>{tries}</td>
      <td>
        {sectors
          .filter(({ grade }) => grade !== 'firm')
          .map(({ r, grade, seenSound, seen }) =>
            say.charts.rightInTurns({ r, grade: GRADE_WORDS[grade], seen, seenSound }),
          )
          .join(', ')}
      </td>
    </tr>
  );
}

interface SurfaceLineProps {
  tracks: readonly { cylinder: number; unsound: number }[];
  cylinders: number;
}

/**
 * The surface of a sitting in one line: one stroke a cylinder, taller where sectors are in doubt.
 */
export function SurfaceLine({ tracks, cylinders }: SurfaceLineProps) {
  const worst = new Map<number, number>();
  for (const { cylinder, unsound } of tracks)
    worst.set(cylinder, Math.max(worst.get(cylinder) ?? 0, unsound));
  return (
    <svg
      viewBox={`0 0 ${cylinders * 3} 12`}
      preserveAspectRatio="none"
      className="h-3 w-full"
      aria-hidden
    >
      <line x1="0" x2={cylinders * 3} y1="6" y2="6" stroke="#5d554b" strokeDasharray="1 2" />
      {[...worst].map(([cylinder, unsound]) => (
        <rect
          key={cylinder}
          x={cylinder * 3}
          width="2"
          y={unsound ? 0 : 3}
          height={unsound ? 12 : 6}
          fill={unsound ? '#c596bf' : '#d8cdbd'}
        />
      ))}
    </svg>
  );
}
