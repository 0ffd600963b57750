'use client';
/** The tracks of sound of a disc, heard where they are, and each as a WAV. */
import { useState } from 'react';
import { say } from '@/messages';
import type { Sounds } from '../data/queries';

interface DiscTracksProps {
  copyId: number;
  tracks: Sounds['tracks'];
}

const clock = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

export function DiscTracks({ copyId, tracks }: DiscTracksProps) {
  const [isFlat, setFlat] = useState(false);
  if (tracks.length === 0) return null;
  const asked = isFlat ? '&pre-emphasis=out' : '';
  return (
    <section aria-label={say.sounds.tracksOfSound} className="mb-4">
      <h2>{say.sounds.tracksOfSound}</h2>
      {tracks.some(({ hasPreEmphasis }) => hasPreEmphasis) && (
        <label className="my-1 flex items-center gap-2 text-[13px]">
          <input
            type="checkbox"
            className="size-4"
            checked={isFlat}
            onChange={(event) => setFlat(event.target.checked)}
          />
          {say.sounds.takePreEmphasisOut}
        </label>
      )}
      <ol className="text-[13px]">
        {tracks.map(({ number, seconds, hasPreEmphasis }) => {
          const address = `/api/copies/${copyId}/sound?track=${number}${hasPreEmphasis ? asked : ''}`;
          const track = say.sounds.track({ number, clock: clock(seconds) });
          return (
            <li key={number} className="flex items-center gap-3 border-b border-line py-1">
              <span className="w-40">
                {track}
                {hasPreEmphasis && (
                  <span className="block text-ink-2">{say.sounds.withPreEmphasis}</span>
                )}
              </span>
              <audio controls preload="none" className="h-8 flex-1" src={address} />
              <a
                href={address}
                download
                aria-label={say.sounds.trackAsWav({ track })}
                className="font-[650] text-oxide hover:underline"
              >
                {say.copies.wav}
              </a>
            </li>
          );
        })}
      </ol>
    </section>
  );
}
