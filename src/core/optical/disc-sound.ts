/**
 * The tracks of sound of a disc as a player goes through them: one behind the other, with what lies
 * between them in the file and the silence that no file holds (IEC 60908: a track's index 0 is the
 * gap before it).
 */
import { isData, type DiscTrack } from './disc-tracks';

/** Sectors of one kind in a row: of the file from a place on, or silence. */
export interface SoundPassage {
  /** Null of silence. */
  fileSector: number | null;
  sectors: number;
  /** The track that it is of, and whether it is the gap before it. */
  track: DiscTrack;
  isGap: boolean;
}

/** From this track on, to the last of those that follow it and hold sound; empty where it holds none. */
export function passagesFrom(tracks: readonly DiscTrack[], number: number): SoundPassage[] {
  const first = tracks.findIndex((track) => track.number === number && !isData(track));
  if (first < 0) return [];
  const behind = tracks.slice(first);
  const end = behind.findIndex(isData);
  const run = end < 0 ? behind : behind.slice(0, end);
  return run.flatMap((track, i) => [
    ...(i === 0 ? [] : gapBefore(track, run[i - 1]!)),
    { fileSector: track.fileSector, sectors: track.sectors, track, isGap: false },
  ]);
}

/** What lies in the file between two tracks, behind the silence that no file holds. */
function gapBefore(track: DiscTrack, before: DiscTrack): SoundPassage[] {
  const from = track.file === before.file ? before.fileSector + before.sectors : 0;
  const inFile = Math.max(0, track.fileSector - from);
  const all = Math.max(inFile, track.startLba - before.startLba - before.sectors);
  const gap = { track, isGap: true };
  return [
    { fileSector: null, sectors: all - inFile, ...gap },
    { fileSector: track.fileSector - inFile, sectors: inFile, ...gap },
  ].filter(({ sectors }) => sectors > 0);
}

/** Where a player is: the track, its index, and the sectors from its index 1 on (below 0 in a gap). */
interface DiscPlace {
  number: number;
  index: number;
  sector: number;
}

/** The place that many sectors behind the beginning; that of the end where it is beyond. */
export function placeAt(passages: readonly SoundPassage[], sector: number): DiscPlace | null {
  let left = sector;
  for (const [i, { track, isGap, sectors }] of passages.entries()) {
    const isLast = i === passages.length - 1;
    if (left < sectors || isLast) {
      const at = Math.min(left, sectors);
      if (isGap) return { number: track.number, index: 0, sector: at - gapLeft(passages, i) };
      const further = (track.indexes ?? []).filter((index) => index <= at).length;
      return { number: track.number, index: 1 + further, sector: at };
    }
    left -= sectors;
  }
  return null;
}

/** Sectors from the beginning of a passage of a gap to the track. */
function gapLeft(passages: readonly SoundPassage[], from: number): number {
  const { number } = passages[from]!.track;
  return passages
    .slice(from)
    .filter(({ isGap, track }) => isGap && track.number === number)
    .reduce((sum, { sectors }) => sum + sectors, 0);
}
