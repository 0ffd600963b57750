/** Plays a disc's tracks of sound one behind the other, and says where in them it is. */
import { useCallback, useRef, useState } from 'react';
import { passagesFrom, placeAt, type SoundPassage } from '@/core/optical/disc-sound';
import { isData, type DiscTrack } from '@/core/optical/disc-tracks';
import { SECTORS_A_SECOND } from './clock';

/** Tracks of sound in a row, as they are played through. */
export interface Run {
  /** The track that it begins with. */
  first: number;
  passages: SoundPassage[];
  sectors: number;
}

/** A disc may have tracks of data between its tracks of sound. */
export function runsOf(tracks: readonly DiscTrack[]): Run[] {
  const firsts = tracks.filter((track, i) => !isData(track) && (i === 0 || isData(tracks[i - 1]!)));
  return firsts.map(({ number }) => {
    const passages = passagesFrom(tracks, number);
    return {
      first: number,
      passages,
      sectors: passages.reduce((sum, { sectors }) => sum + sectors, 0),
    };
  });
}

/** Sectors from the beginning of a run to a track's index 1. */
function beginOf({ passages }: Run, number: number): number {
  const at = passages.findIndex(({ track, isGap }) => track.number === number && !isGap);
  return passages.slice(0, at).reduce((sum, { sectors }) => sum + sectors, 0);
}

const holds = ({ passages }: Run, number: number) =>
  passages.some(({ track }) => track.number === number);

export function useDiscPlayer(runs: readonly Run[]) {
  const audio = useRef<HTMLAudioElement>(null);
  const [run, setRun] = useState(runs[0]!);
  const [sector, setSector] = useState(0);
  const [isPlaying, setIsPlaying] = useState(false);
  const goTo = useCallback((next: number) => {
    const element = audio.current;
    if (!element) return;
    element.currentTime = next / SECTORS_A_SECOND;
    setSector(next);
    void element.play();
  }, []);
  const playTrack = (number: number) => {
    const own = runs.find((each) => holds(each, number))!;
    const begin = beginOf(own, number);
    if (own === run) return goTo(begin);
    setRun(own);
    // The player has another address by then.
    requestAnimationFrame(() => goTo(begin));
  };
  /** Where another address is given it begins anew: it goes on where it was. */
  const goOnHere = () => {
    const [at, wasPlaying] = [sector, isPlaying];
    requestAnimationFrame(() => {
      // The page may have been left by then.
      const element = audio.current;
      if (!element) return;
      element.currentTime = at / SECTORS_A_SECOND;
      setSector(at);
      if (wasPlaying) void element.play();
    });
  };
  const turn = () => {
    const element = audio.current!;
    if (element.paused) void element.play();
    else element.pause();
  };
  const heard = {
    ref: audio,
    onTimeUpdate: () => setSector(Math.floor(audio.current!.currentTime * SECTORS_A_SECOND)),
    onPlay: () => setIsPlaying(true),
    onPause: () => setIsPlaying(false),
  };
  const place = placeAt(run.passages, sector)!;
  return { run, sector, place, isPlaying, goTo, goOnHere, playTrack, turn, heard };
}
