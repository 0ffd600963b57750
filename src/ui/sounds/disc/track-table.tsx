/** A disc's tracks of sound, a row each: how long, with which gap and indexes, and its WAV. */
import type { SoundPassage } from '@/core/optical/disc-sound';
import { hasPreEmphasis, type DiscTrack } from '@/core/optical/disc-tracks';
import { say } from '@/messages';
import { clock } from './clock';

interface TrackTableProps {
  copyId: number;
  passages: readonly SoundPassage[];
  /** The track that is heard, or would be. */
  playing: number;
  isFlat: boolean;
  playTrack(number: number): void;
}

export function TrackTable({ passages, ...rest }: TrackTableProps) {
  const gaps = new Map<number, number>();
  for (const { track, isGap, sectors } of passages)
    if (isGap) gaps.set(track.number, (gaps.get(track.number) ?? 0) + sectors);
  const heads = [
    say.sounds.trackHead,
    say.sounds.length,
    say.sounds.gapHead,
    say.sounds.indexesHead,
    '',
  ];
  return (
    <table className="w-full border border-line bg-sheet text-[13px]">
      <thead className="bg-sunk text-left">
        <tr>
          {heads.map((head, i) => (
            <th key={i} className="px-3 py-1.5 font-[650]">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {passages
          .filter(({ isGap }) => !isGap)
          .map(({ track }) => (
            <TrackRow
              key={track.number}
              track={track}
              gap={gaps.get(track.number) ?? 0}
              {...rest}
            />
          ))}
      </tbody>
    </table>
  );
}

interface TrackRowProps extends Omit<TrackTableProps, 'passages'> {
  track: DiscTrack;
  gap: number;
}

function TrackRow({ copyId, track, gap, playing, isFlat, playTrack }: TrackRowProps) {
  const { number, sectors, indexes = [] } = track;
  const isLifted = hasPreEmphasis(track);
  const words = say.sounds.track({ number, clock: clock(sectors) });
  const asked = isFlat && isLifted ? '&pre-emphasis=out' : '';
  return (
    <tr
      aria-selected={number === playing}
      className={
        'border-b border-line ' +
        (number === playing ? 'bg-oxide-wash shadow-[inset_4px_0_0_var(--color-oxide)]' : '')
      }
    >
      <td className="px-3 py-1.5">
        <button
          type="button"
          className="font-[650] text-oxide underline"
          onClick={() => playTrack(number)}
        >
          {say.sounds.trackNumber({ number })}
        </button>
        {isLifted && <span className="ml-2 text-ink-2">{say.sounds.withPreEmphasis}</span>}
      </td>
      <td className="px-3 font-mono">{clock(sectors)}</td>
      <td className="px-3 font-mono">{gap > 0 ? clock(gap) : '–'}</td>
      <td className="px-3 font-mono">
        {indexes
          .map((index, i) => say.sounds.indexAt({ index: i + 2, clock: clock(index) }))
          .join(', ')}
      </td>
      <td className="px-3 text-right">
        <a
          href={`/api/copies/${copyId}/sound?track=${number}${asked}`}
          download
          aria-label={say.sounds.trackAsWav({ track: words })}
          className="font-[650] text-oxide underline"
        >
          {say.copies.wav}
        </a>
      </td>
    </tr>
  );
}
