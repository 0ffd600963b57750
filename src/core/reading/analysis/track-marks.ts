/**
 * Tracks of a sitting as they come in, and the tally over them; the server and the pages count
 * alike.
 */
import { emptyTally, type Tally } from '../grades';
import type { SectorMark } from '../sector-mark';

export interface TrackMarks {
  cylinder: number;
  head: number;
  tries: number;
  sectors: SectorMark[];
}

interface WithTracks {
  tracks: TrackMarks[];
  /** Tracks that the sitting is to read altogether. */
  tracksWanted: number;
  tally: Tally;
  readings: number;
}

/** The tally of all tracks; those not read yet count as many sectors as the fullest that was. */
export function tallyTracks(
  tracks: readonly Pick<TrackMarks, 'sectors'>[],
  expectedTracks: number,
): Tally {
  const tally = emptyTally();
  let most = 0;
  for (const { sectors } of tracks) {
    most = Math.max(most, sectors.length);
    for (const { grade } of sectors) tally[grade]++;
  }
  tally.unread = Math.max(0, expectedTracks - tracks.length) * (most || 9);
  return tally;
}

/** The sitting with one more reading of a track. */
export function withTrack<T extends WithTracks>(
  sitting: T,
  { cylinder, head, tries, sectors }: TrackMarks,
): T {
  const tracks = sitting.tracks.filter(
    (track) => track.cylinder !== cylinder || track.head !== head,
  );
  tracks.push({ cylinder, head, tries, sectors });
  return {
    ...sitting,
    tracks,
    readings: sitting.readings + 1,
    tally: tallyTracks(tracks, sitting.tracksWanted),
  };
}
