'use client';
/** What stands round the surface chart: what is shown, the scale, what the cursor is at. */
import { Dispatch, SetStateAction } from 'react';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import { SurfaceBar, type SurfaceView } from './surface-layout';

function describe(mark: SectorMark): string {
  const how = mark.mending ? `, by ${mark.mending.replaceAll('-', ' ')}` : '';
  return (
    `sector ${mark.r}: ` +
    (`${mark.grade}${how}` +
      `${mark.seen > 0 ? `; read right in ${mark.seenSound} of ${mark.seen} turns` : ''}` +
      `${mark.deleted ? '; deleted-data mark' : ''}`)
  );
}

export function SurfaceTools({
  view,
  setView,
  asTable,
  setAsTable,
  save,
}: {
  view: SurfaceView | undefined;
  setView: Dispatch<SetStateAction<SurfaceView | undefined>>;
  asTable: boolean;
  setAsTable: Dispatch<SetStateAction<boolean>>;
  save: (kind: 'png' | 'svg') => undefined;
}) {
  return (
    <span className="ml-auto flex items-center gap-3 text-ink-2">
      {view && (
        <button type="button" onClick={() => setView(undefined)} className="text-oxide underline">
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
  );
}

export function TurnScale() {
  return (
    <>
      <span>a full turn</span>
      <span>½</span>
      <b className="text-ink">head 0</b>
      <span className="w-6" />
      <b className="text-ink">head 1</b>
      <span>½</span>
      <span>a full turn</span>
    </>
  );
}

export function CursorFrame({ cursorBar }: { cursorBar: SurfaceBar }) {
  return (
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
  );
}

export function SurfaceCursor({
  id,
  cursor,
  mark,
  under,
  onOpen,
}: {
  id: string;
  cursor: { cylinder: number; head: number; sector: number } | null;
  mark: SectorMark | undefined;
  under: TrackMarks | null | undefined;
  onOpen: ((track: { cylinder: number; head: number; sector?: number }) => void) | undefined;
}) {
  return (
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
  );
}
