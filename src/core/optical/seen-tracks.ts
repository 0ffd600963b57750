/**
 * The tracks of a disc as its sheet says, held against what their sectors say themselves: a sheet
 * may be of another disc, or made by a program that did not look.
 */
import type { ByteSource } from '../bits/byte-source';
import type { Problem } from '../problems';
import type { CueSheet, TrackKind } from './cue';
import { isData, isRaw, tracksOf, type DiscTrack } from './disc-tracks';
import { commonestMode, dataIn, surveyHeaders, type HeaderSurvey } from './header-survey';
import { RAW_BYTES } from './scramble';
import { LAST_ADDRESS } from './sector-header';
import { said } from '@/core/said';

/** Sectors of data under a track of sound are nearly all there; of another mode most. */
const NEARLY_ALL = 0.9;
const MOST = 0.75;

/** What a track is by its headers; null where they do not contradict the sheet. */
function contradicted(type: TrackKind, survey: HeaderSurvey): TrackKind | null {
  const { looked, modes } = survey;
  const data = dataIn(survey);
  const most = commonestMode(survey);
  if (looked === 0) return null;
  if (type === 'AUDIO') return data >= NEARLY_ALL * looked ? most : null;
  const isClear = 2 * data >= looked && Math.max(modes[1], modes[2]) >= MOST * data;
  return type !== most && isClear ? most : null;
}

/** Where further tracks of data lie behind the first, by the addresses of both, where that can be. */
function placedByAddress(tracks: DiscTrack[], begins: readonly (number | null)[]): DiscTrack[] {
  const first = tracks.findIndex(isData);
  let end = 0;
  return tracks.map((track, i) => {
    if (!isData(track)) return track;
    const [own, base] = [begins[i] ?? null, begins[first] ?? null];
    const bySheet = track.startLba - tracks[first]!.startLba;
    const byAddress = own === null || base === null ? bySheet : own - base;
    const isPossible = byAddress >= end && byAddress + track.sectors <= LAST_ADDRESS + 1;
    const imageSector = isPossible ? byAddress : Math.max(end, bySheet);
    end = imageSector + track.sectors;
    return imageSector === bySheet ? track : { ...track, imageSector };
  });
}

/** The tracks, each as what its sectors are; where the sheet says otherwise, that is told. */
export async function seenTracks(
  sheet: CueSheet,
  sources: readonly ByteSource[],
): Promise<{ tracks: DiscTrack[]; problems: Problem[] }> {
  const { tracks, problems } = tracksOf(
    sheet,
    sources.map(({ size }) => size),
  );
  const seen: DiscTrack[] = [];
  const begins: (number | null)[] = [];
  for (const track of tracks) {
    const { number, type, file, fileSector } = track;
    const source = sources[file];
    const isLooked = type === 'AUDIO' ? isPlain(sheet, file) : isRaw(type);
    const survey = source && isLooked ? await surveyHeaders(source, track) : null;
    const is = survey && contradicted(type, survey);
    begins.push(survey?.begins ?? null);
    seen.push(is ? { ...track, type: is } : track);
    if (is)
      problems.push({
        kind: 'sheet-differs',
        offset: fileSector * RAW_BYTES,
        said: said('optical.sheetSaysOtherwise', { number, type, is }),
      });
  }
  return { tracks: placedByAddress(seen, begins), problems };
}

const isPlain = ({ files }: CueSheet, file: number): boolean => files[file]?.type === 'BINARY';
