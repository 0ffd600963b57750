'use client';
/** Intervals round the turn, the sectors below them, and how sure each place is. */
import { useEffect, useMemo, useRef, useState } from 'react';
import type { LoupeTurn } from '@/core/reading/analysis/loupe';
import type { FoundFormat } from '@/core/reading/decode/track-work';
import type { TrackSector } from '@/core/reading/track-sector';
import { say } from '@/messages';
import type { PlacedLook } from './aligned-readings';
import { DoubtStrip } from './doubt-strip';
import { MARGIN } from './ribbon-paint';
import { Ribbons } from './ribbons';
import { TrackLine } from './track-line';
import type { useWeighed } from './use-looks';

/** Turns shown as ribbons; the readings below them are always all. */
const MAX_RIBBONS = 5;

function useWidth() {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const element = box.current!;
    const observer = new ResizeObserver(() => setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [box, width] as const;
}

/** As many ribbons as find room: first those in which the sector fails. */
function ribbonsOf(turns: readonly LoupeTurn[], looks: readonly PlacedLook[]): LoupeTurn[] {
  const failing = new Set(
    looks.filter(({ sighting }) => !sighting?.dataOk).map(({ turn }) => turn),
  );
  return [...turns]
    .sort((a, b) => Number(failing.has(b)) - Number(failing.has(a)))
    .slice(0, MAX_RIBBONS)
    .sort((a, b) => a.reading - b.reading || a.turn - b.turn);
}

type Placed = TrackSector & { angle: number; span: number };

export const isPlaced = (sector: TrackSector | null): sector is Placed =>
  sector !== null && sector.angle !== null && sector.span !== null;

interface TurnsSeenProps {
  turns: LoupeTurn[];
  weighed: ReturnType<typeof useWeighed>;
  looks: readonly PlacedLook[];
  format: FoundFormat;
  tickHz: number;
  view: { from: number; to: number };
  sector: TrackSector | null;
  shown: readonly TrackSector[];
  onZoom: (view: [number, number]) => void;
  onChoose: (sector: TrackSector) => void;
}

export function TurnsSeen({
  turns,
  weighed,
  looks,
  format,
  tickHz,
  view: { from, to },
  sector,
  shown,
  onZoom,
  onChoose,
}: TurnsSeenProps) {
  const [box, width] = useWidth();
  const ribbons = useMemo(() => ribbonsOf(turns, looks), [turns, looks]);
  return (
    <div ref={box}>
      <h2 className="mb-1">
        {say.loupe.intervalsRoundTheTurn} <RibbonsHead turns={turns} />
      </h2>
      {width > 0 && (
        <>
          <Ribbons
            turns={ribbons}
            encoding={format.encoding}
            cellTicks={format.cellTicks}
            tickHz={tickHz}
            from={from}
            to={to}
            marked={isPlaced(sector) ? { angle: sector.angle, span: sector.span } : null}
            width={width}
            onZoom={(a, b) => onZoom([a, b])}
          />
          <TrackLine
            sectors={shown}
            chosen={sector}
            from={from}
            to={to}
            width={width - MARGIN - 10}
            onChoose={onChoose}
          />
          <DoubtStrip
            weights={weighed.data}
            trouble={weighed.error?.message}
            from={from}
            to={to}
            width={width}
          />
        </>
      )}
    </div>
  );
}

function RibbonsHead({ turns }: { turns: LoupeTurn[] }) {
  return (
    <span className="text-[13px] font-normal text-ink-2">
      {say.loupe.shortOnesOnTop}
      {turns.length > MAX_RIBBONS &&
        say.loupe.ofTurns2({ maxRibbons: MAX_RIBBONS, turns: turns.length })}
    </span>
  );
}
