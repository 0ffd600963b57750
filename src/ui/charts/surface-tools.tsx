'use client';
/** What stands round the surface chart: what is shown, the scale, what the cursor is at. */
import { GRADE_WORDS } from '@/messages/names';
import { Dispatch, SetStateAction } from 'react';
import type { SectorMark } from '@/core/reading/sector-mark';
import type { TrackMarks } from '@/core/reading/analysis/track-marks';
import { SurfaceBar, type SurfaceView, type SurfacePlace } from './surface-layout';
import { say } from '@/messages';
import { ViewTools } from './view-tools';

function describe(mark: SectorMark): string {
  const how = mark.mending ? say.charts.by({ replaceAll: mark.mending.replaceAll('-', ' ') }) : '';
  return say.charts.sector({
    r: mark.r,
    grade: GRADE_WORDS[mark.grade],
    how,
    seenPart:
      mark.seen > 0 ? say.charts.readRightInOf({ seenSound: mark.seenSound, seen: mark.seen }) : '',
    deletedPart: mark.deleted ? say.charts.deletedDataMark : '',
  });
}

interface SurfaceToolsProps {
  view: SurfaceView | undefined;
  setView: Dispatch<SetStateAction<SurfaceView | undefined>>;
  asTable: boolean;
  setAsTable: Dispatch<SetStateAction<boolean>>;
  save: (kind: 'png' | 'svg') => undefined;
}

export function SurfaceTools({ view, setView, asTable, setAsTable, save }: SurfaceToolsProps) {
  return (
    <ViewTools
      whole={view ? say.charts.wholeChart : null}
      onWhole={() => setView(undefined)}
      asTable={asTable}
      setAsTable={setAsTable}
    >
      <button type="button" onClick={() => save('png')} className="underline hover:text-ink">
        {say.charts.png}
      </button>
      <button type="button" onClick={() => save('svg')} className="underline hover:text-ink">
        {say.charts.svg}
      </button>
    </ViewTools>
  );
}

export function TurnScale() {
  return (
    <>
      <span>{say.charts.aFullTurn}</span>
      <span>½</span>
      <b className="text-ink">{say.charts.head0}</b>
      <span className="w-6" />
      <b className="text-ink">{say.charts.head1}</b>
      <span>½</span>
      <span>{say.charts.aFullTurn}</span>
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

interface SurfaceCursorProps {
  id: string;
  cursor: SurfacePlace | null;
  mark: SectorMark | undefined;
  under: TrackMarks | null | undefined;
  onOpen: ((track: { cylinder: number; head: number; sector?: number }) => void) | undefined;
}

export function SurfaceCursor({ id, cursor, mark, under, onOpen }: SurfaceCursorProps) {
  return (
    <figcaption
      id={`${id}-cursor`}
      aria-live="polite"
      className="mt-1 h-10 overflow-hidden text-[13px] leading-5 text-ink-2"
    >
      {cursor
        ? say.charts.cylinderHead({
            cylinder: cursor.cylinder,
            head: cursor.head,
            markPart: mark
              ? `, ${describe(mark)}`
              : under
                ? say.charts.sectorsReadings({ sectors: under.sectors.length, tries: under.tries })
                : say.charts.notReadYet2,
          })
        : say.charts.pointAtASector({ onOpenPart: onOpen ? say.charts.aClickOrEnter : '' })}
    </figcaption>
  );
}
