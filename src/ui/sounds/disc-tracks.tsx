'use client';
/** The tracks of sound of a disc, heard where they are. */
import { say } from '@/messages';
import type { Sounds } from '../data/queries';

interface DiscTracksProps {
  copyId: number;
  tracks: Sounds['tracks'];
}

const clock = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

export function DiscTracks({ copyId, tracks }: DiscTracksProps) {
  if (tracks.length === 0) return null;
  return (
    <section aria-label={say.sounds.tracksOfSound} className="mb-4">
      <h2>{say.sounds.tracksOfSound}</h2>
      <ol className="text-[13px]">
        {tracks.map(({ number, seconds }) => (
          <li key={number} className="flex items-center gap-3 border-b border-line py-1">
            <span className="w-40">{say.sounds.track({ number, clock: clock(seconds) })}</span>
            <audio
              controls
              preload="none"
              className="h-8 flex-1"
              src={`/api/copies/${copyId}/sound?track=${number}`}
            />
          </li>
        ))}
      </ol>
    </section>
  );
}
