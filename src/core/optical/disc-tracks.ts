/** The tracks of a disc as a cue sheet and the sizes of its files give them. */
import type { Problem } from '../problems';
import { SECTOR_BYTES, type CueSheet, type CueTrack, type TrackFlag, type TrackKind } from './cue';
import { said } from '@/core/said';

export interface DiscTrack {
  number: number;
  type: TrackKind;
  /** As its sheet says. */
  flags?: readonly TrackFlag[];
  /** INDEX 01 on the disc, with silence that no file holds counted in. */
  startLba: number;
  sectors: number;
  /** Its INDEX 01 in its file. */
  fileSector: number;
  file: number;
  pregapSectors: number;
  /** Of its INDEX 02 and on, counted from its INDEX 01. */
  indexes?: readonly number[];
  /**
   * Of a track of data: the sector of the disc's data with which it begins, where its headers say so.
   */
  imageSector?: number;
}

export const isRaw = (type: TrackKind): boolean => type === 'MODE1/2352' || type === 'MODE2/2352';

export const isData = ({ type }: Pick<DiscTrack, 'type'>): boolean => type !== 'AUDIO';

/** Whether its treble was lifted before it was recorded. */
export const hasPreEmphasis = ({ type, flags }: Pick<DiscTrack, 'type' | 'flags'>): boolean =>
  type === 'AUDIO' && flags?.includes('PRE') === true;

/** Whether a disc holds sound and nothing else. */
export const isOnlySound = (tracks: readonly Pick<DiscTrack, 'type'>[]): boolean =>
  tracks.length > 0 && !tracks.some(isData);

type Placed = Pick<DiscTrack, 'type' | 'startLba' | 'imageSector'>;

/** The tracks of data, each with the sector of the disc's data with which it begins. */
export function dataTracks<T extends Placed>(
  tracks: readonly T[],
): (T & { imageSector: number })[] {
  const data = tracks.filter(isData);
  return data.map((track) => ({
    ...track,
    imageSector: track.imageSector ?? track.startLba - data[0]!.startLba,
  }));
}

/** Tracks with their places and lengths; what a sheet says beyond its files is cut, and said. */
export function tracksOf(
  { tracks, files }: CueSheet,
  sizes: readonly number[],
): { tracks: DiscTrack[]; problems: Problem[] } {
  const problems: Problem[] = [];
  const out: DiscTrack[] = [];
  // Sectors before the file at hand, and silence before the track at hand.
  let before = 0;
  let silence = 0;
  for (const [i, track] of tracks.entries()) {
    const next = tracks[i + 1];
    const sectors = Math.floor((sizes[track.file] ?? 0) / SECTOR_BYTES[track.type]);
    const end =
      next && next.file === track.file
        ? Math.min(next.pregapStart ?? next.start, sectors)
        : sectors;
    if (track.start > sectors)
      problems.push({
        kind: 'truncated-image',
        offset: null,
        said: said('optical.trackBeginsAtSector', {
          number: track.number,
          start: track.start,
          name: files[track.file]?.name ?? 'its file',
          sectors,
        }),
      });
    silence += track.pregap;
    out.push({
      number: track.number,
      type: track.type,
      ...(track.flags && { flags: track.flags }),
      startLba: before + silence + track.start,
      sectors: Math.max(0, end - track.start),
      fileSector: track.start,
      file: track.file,
      pregapSectors: track.pregapStart === null ? track.pregap : track.start - track.pregapStart,
      ...indexesWithin(track, end),
    });
    silence += track.postgap;
    if (next && next.file !== track.file) before += sectors;
  }
  return { tracks: out, problems };
}

/** The further indexes that lie in the track, counted from its first. */
function indexesWithin({ indexes = [], start }: CueTrack, end: number) {
  const within = indexes.filter((index) => index < end);
  return within.length > 0 && { indexes: within.map((index) => index - start) };
}
