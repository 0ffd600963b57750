'use client';
/** The tracks of sound of a disc: heard one behind the other with their gaps, and each as a WAV. */
import { useMemo, useState } from 'react';
import { hasPreEmphasis } from '@/core/optical/disc-tracks';
import { say } from '@/messages';
import type { Sounds } from '../../data/queries';
import { Button } from '../../parts/button';
import { useKey } from '../../parts/keys';
import { clock } from './clock';
import { DiscStrip } from './disc-strip';
import { TrackTable } from './track-table';
import { runsOf, useDiscPlayer, type Run } from './use-disc-player';

interface DiscTracksProps {
  copyId: number;
  disc: Sounds['disc'];
  /** Whether the keys of the cursor are free: nothing else is gone through by them. */
  hasCursor: boolean;
}

export function DiscTracks({ disc, ...rest }: DiscTracksProps) {
  const runs = useMemo(() => runsOf(disc), [disc]);
  if (runs.length === 0) return null;
  return <Tracks runs={runs} {...rest} />;
}

function Tracks({ copyId, runs, hasCursor }: Omit<DiscTracksProps, 'disc'> & { runs: Run[] }) {
  const [isFlat, setFlat] = useState(false);
  const player = useDiscPlayer(runs);
  const { run, sector, place, isPlaying, goTo, goOnHere, playTrack, turn, heard } = player;
  const tracks = runs.flatMap(({ passages }) => passages.filter(({ isGap }) => !isGap));
  const isLifted = tracks.some(({ track }) => hasPreEmphasis(track));
  const step = (by: number) => {
    const at = tracks.findIndex(({ track }) => track.number === place.number);
    const next = tracks[Math.max(0, Math.min(tracks.length - 1, at + by))]!;
    playTrack(next.track.number);
  };
  useKey('ArrowDown', hasCursor ? () => step(1) : undefined);
  useKey('ArrowUp', hasCursor ? () => step(-1) : undefined);
  const asked = isFlat ? '&pre-emphasis=out' : '';
  return (
    <section aria-label={say.sounds.tracksOfSound} className="mb-4">
      <DiscStrip run={run} sector={sector} goTo={goTo} />
      <div className="my-2 flex flex-wrap items-center gap-4">
        <Button hotkey={hasCursor ? ' ' : 'shift+p'} tone="primary" onClick={turn}>
          {isPlaying ? say.sounds.stop : say.sounds.play}
        </Button>
        <output className="font-mono text-[13px]" data-testid="disc-place">
          {say.sounds.placeOnDisc({ ...place, clock: clock(place.sector) })}
        </output>
        {isLifted && (
          <label className="flex max-w-[60ch] items-center gap-2 text-[13px]">
            <input
              type="checkbox"
              className="size-4"
              checked={isFlat}
              onChange={(event) => {
                setFlat(event.target.checked);
                goOnHere();
              }}
            />
            {say.sounds.takePreEmphasisOut}
          </label>
        )}
      </div>
      <audio
        {...heard}
        preload="none"
        src={`/api/copies/${copyId}/sound?track=${run.first}&through${asked}`}
      />
      <TrackTable
        copyId={copyId}
        passages={runs.flatMap(({ passages }) => passages)}
        playing={place.number}
        isFlat={isFlat}
        playTrack={playTrack}
      />
    </section>
  );
}
