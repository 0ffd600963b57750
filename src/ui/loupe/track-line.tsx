/**
 * The track as decoded, from index to index: each sector with its ID before it; the one looked at
 * is framed.
 */
import { isSound } from '@/core/reading/grades';
import type { TrackSector } from '@/core/reading/track-sector';
import { say } from '@/messages';

/** Share of a sector's span that its ID and the gap behind it take. */
const ID_SHARE = 0.075;
const FILLS: Record<string, string> = {
  firm: 'var(--grade-firm)',
  mended: 'var(--grade-mended)',
  doubtful: 'url(#loupe-doubtful)',
  lost: 'var(--ground)',
};

interface TrackLineProps {
  sectors: readonly TrackSector[];
  chosen: TrackSector | null;
  from: number;
  to: number;
  width: number;
  onChoose: (sector: TrackSector) => void;
}

export function TrackLine({ sectors, chosen, from, to, width, onChoose }: TrackLineProps) {
  const x = (angle: number) => ((angle - from) / (to - from)) * width;
  const placed = sectors.filter(
    ({ angle, span }) => angle !== null && span !== null && angle + span > from && angle < to,
  );
  return (
    <svg
      width={width}
      height="56"
      role="group"
      aria-label={say.loupe.sectorsOfTheTrack}
      data-testid="track-line"
    >
      <DoubtfulPattern />
      {placed.map((sector, i) => {
        const { angle, span, grade, r } = sector;
        const left = x(angle!);
        const size = x(angle! + span!) - left;
        const id = size * ID_SHARE;
        return (
          <PlacedSector
            key={i}
            onChoose={onChoose}
            sector={sector}
            left={left}
            id={id}
            r={r}
            size={size}
            grade={grade}
            chosen={chosen}
          />
        );
      })}
    </svg>
  );
}

interface PlacedSectorProps {
  onChoose: (sector: TrackSector) => void;
  sector: TrackSector;
  left: number;
  id: number;
  r: number;
  size: number;
  grade: TrackSector['grade'];
  chosen: TrackSector | null;
}

function DoubtfulPattern() {
  return (
    <defs>
      <pattern id="loupe-doubtful" width="5" height="5" patternUnits="userSpaceOnUse">
        <rect width="5" height="5" fill="var(--ground)" />
        <path d="M-1 1 1-1M0 5 5 0M4 6 6 4" stroke="var(--grade-doubtful)" strokeWidth="1.8" />
      </pattern>
    </defs>
  );
}

function PlacedSector({ onChoose, sector, left, id, r, size, grade, chosen }: PlacedSectorProps) {
  return (
    <g onClick={() => onChoose(sector)} className="cursor-pointer">
      <text x={left + id} y="12" fontSize="12" fontWeight="650" fill="var(--ink)">
        {r}
      </text>
      <rect x={left} y="24" width={Math.max(1, id * 0.6)} height="22" fill="var(--ink-3)" />
      <rect
        x={left + id}
        y="18"
        width={Math.max(1, size - id - 1)}
        height="30"
        fill={FILLS[grade]}
        stroke={isSound(grade) ? 'none' : `var(--grade-${grade})`}
      />
      {sector === chosen && (
        <rect
          x={left + id - 2.5}
          y="15.5"
          width={Math.max(1, size - id - 1) + 5}
          height="35"
          fill="none"
          stroke="var(--ink)"
          strokeWidth="2"
        />
      )}
    </g>
  );
}
