/** The tracks of sound of a disc over their time, with the gaps between them: a click goes there. */
import { say } from '@/messages';
import type { Run } from './use-disc-player';

interface DiscStripProps {
  run: Run;
  sector: number;
  goTo(sector: number): void;
}

export function DiscStrip({ run, sector, goTo }: DiscStripProps) {
  const share = (sectors: number) => `${(100 * sectors) / run.sectors}%`;
  return (
    <div
      className="relative flex h-12 cursor-crosshair border border-line bg-sheet"
      data-testid="disc-strip"
      onClick={(event) => {
        const { left, width } = event.currentTarget.getBoundingClientRect();
        const at = (event.clientX - left) / Math.max(1, width);
        goTo(Math.max(0, Math.min(run.sectors - 1, Math.floor(at * run.sectors))));
      }}
    >
      {run.passages.map(({ track, isGap, sectors }, i) => (
        <span
          key={i}
          style={{ width: share(sectors) }}
          title={isGap ? say.sounds.gapBefore({ number: track.number }) : undefined}
          className={
            isGap
              ? 'bg-sunk'
              : 'overflow-hidden border-l border-line pl-1 pt-0.5 font-mono text-[12px] text-ink-2'
          }
        >
          {isGap ? '' : track.number}
        </span>
      ))}
      <span
        className="pointer-events-none absolute inset-y-0 w-0.5 bg-oxide"
        style={{ left: share(sector) }}
      />
    </div>
  );
}
