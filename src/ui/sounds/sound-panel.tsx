'use client';
/** One sound: over its time, by its frequencies, with what is known of it. */
import { useQuery } from '@tanstack/react-query';
import { useCallback, useEffect, useState } from 'react';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import { Button } from '../parts/button';
import { FactList } from '../parts/fact-list';
import { ErrorAlert } from '../parts/page';
import type { Player } from './player';
import { RateChoice, type Rate } from './rate-choice';
import type { Item } from './sound-list';
import { heardFile, heardSample, type Heard, type ListedSample } from './sound-source';
import { Problems } from './problems';
import { ToneChart } from './tone-chart';
import { WaveChart } from './wave-chart';
import { wavAddress } from './wav-file';

export type Single = Exclude<Item, { kind: 'program' }>;

interface SoundPanelProps {
  item: Single;
  player: Player;
  /** It was chosen by hand: it is heard at once. */
  playsAtOnce: boolean;
  /** Of what does not say its own. */
  rate: Rate;
}

const VOICE = 'chosen';

const heardOf = (item: Single): Promise<Heard> =>
  item.kind === 'sample' ? heardSample(item.sample) : heardFile(item.file, item.path);

export function SoundPanel({ item, player, playsAtOnce, rate }: SoundPanelProps) {
  const { data: heard, error } = useQuery({
    queryKey: ['heard', item.key, item.kind === 'sample' ? item.sample.rateHz : null],
    queryFn: () => heardOf(item),
    // Sounds are kept where they are fetched, and no more of them than there.
    gcTime: 0,
    staleTime: Infinity,
    retry: false,
  });
  const name = item.kind === 'sample' ? item.sample.name : item.path;
  return (
    <>
      <div className="flex items-baseline justify-between gap-3">
        <h2 className="font-mono">{name}</h2>
        {item.kind === 'sample' && item.sample.file !== null && (
          <a
            href={wavAddress(item.sample.file)}
            download
            className="text-[13px] font-[650] text-oxide underline"
          >
            {say.sounds.asWav}
          </a>
        )}
      </div>
      {heard && <PlayedSound heard={heard} player={player} playsAtOnce={playsAtOnce} />}
      <ErrorAlert>{error && say.sounds.canNotBeHeard({ why: error.message })}</ErrorAlert>
      {item.kind === 'sample' && item.sample.rateAssumed && (
        <RateChoice rateHz={item.sample.rateHz} rate={rate} />
      )}
      {item.kind === 'sample' && <Facts sample={item.sample} playedBy={item.playedBy} />}
    </>
  );
}

/** Plays and stops the sound that is chosen. */
function useHearing(heard: Heard, player: Player, playsAtOnce: boolean) {
  const [isPlaying, setIsPlaying] = useState(false);
  const [isLooped, setIsLooped] = useState(heard.loop !== null);
  const [cursor, setCursor] = useState(heard.start);
  const play = useCallback(
    (from: number, looped: boolean) => {
      setIsPlaying(true);
      player.play(heard, {
        name: VOICE,
        from,
        isLooped: looped,
        onEnd: () => setIsPlaying(false),
      });
    },
    [heard, player],
  );
  const stop = () => {
    player.stop(VOICE);
    setIsPlaying(false);
  };
  useEffect(() => {
    // Asked for by the key that chose it: heard without another.
    // eslint-disable-next-line react-hooks/set-state-in-effect -- what begins here is a sound
    if (playsAtOnce) play(heard.start, false);
    return () => player.stop(VOICE);
  }, [heard, player, play, playsAtOnce]);
  const turn = () => (isPlaying ? stop() : play(cursor, isLooped));
  return { isPlaying, isLooped, setIsLooped, cursor, setCursor, turn };
}

interface PlayedSoundProps extends Pick<SoundPanelProps, 'player' | 'playsAtOnce'> {
  heard: Heard;
  /** Beside something else: without its frequencies, and its keys but for one. */
  isSmall?: boolean;
}

/** A sound over its time, played and stopped. */
export function PlayedSound({ heard, player, playsAtOnce, isSmall = false }: PlayedSoundProps) {
  const { isPlaying, isLooped, setIsLooped, cursor, setCursor, turn } = useHearing(
    heard,
    player,
    playsAtOnce,
  );
  const playedFrame = useCallback(() => player.frameOf(VOICE), [player]);
  return (
    <>
      <WaveChart {...{ heard, cursor, setCursor, playedFrame, isSmall }} />
      <div className="mt-2 flex flex-wrap items-start gap-3">
        <Button hotkey=" " tone="primary" onClick={turn} data-testid="play">
          {isPlaying ? say.sounds.stop : say.sounds.play}
        </Button>
        {heard.loop && (
          <Button
            {...(isSmall ? {} : { hotkey: 'l' })}
            aria-pressed={isLooped}
            onClick={() => setIsLooped(!isLooped)}
          >
            {isLooped ? say.sounds.loopedAsRecorded : say.sounds.playedOnce}
          </Button>
        )}
        {!isSmall && <ToneChart player={player} />}
      </div>
    </>
  );
}

const playedByFact = (playedBy: readonly string[] | null): [string, string][] =>
  playedBy === null ? [] : [[say.sounds.playedBy, playedBy.join(', ') || say.sounds.noProgram]];

interface FactsProps {
  sample: ListedSample;
  /** Null where its volume has no programs. */
  playedBy: readonly string[] | null;
}

function Facts({ sample, playedBy }: FactsProps) {
  const { rateHz, rateAssumed, frames, bits, rootNote, cents, loops, problems } = sample;
  const facts: [string, string][] = [
    [say.sounds.rate, `${grouped(rateHz)} Hz${rateAssumed ? `, ${say.sounds.assumed}` : ''}`],
    [say.sounds.frames, `${grouped(frames)}, ${say.sounds.ofBits({ bits })}`],
    [say.sounds.rootNote, rootNote === null ? '–' : say.sounds.note({ note: rootNote, cents })],
    ...playedByFact(playedBy),
    ...loops.map((loop, i): [string, string] => [
      say.sounds.loopNumber({ number: i + 1 }),
      say.sounds.loopIs({ ...loop, start: grouped(loop.startFrame), end: grouped(loop.endFrame) }),
    ]),
  ];
  return (
    <>
      <div className="mt-3">
        <FactList facts={facts} />
      </div>
      <Problems problems={problems} />
    </>
  );
}
