'use client';
/** A sound of the volume, heard before the volume is settled. */
import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { isSampleType } from '@/core/sound/sounding';
import { say } from '@/messages';
import { Button } from '../parts/button';
import { ErrorAlert } from '../parts/page';
import { Player } from '../sounds/player';
import { soundAt } from '../sounds/sound-source';
import type { Entry } from './asked-name';

const VOICE = 'heard';

export const isSound = ({ kind, type }: Entry) => kind === 'file' && isSampleType(type);

export function HearButton({ assembly, path }: { assembly: number; path: string }) {
  const player = useRef<Player | null>(null);
  const [isPlaying, setIsPlaying] = useState(false);
  useEffect(() => () => void player.current?.close(), []);
  const hear = useMutation({
    // What it is may have changed since it was heard last.
    mutationFn: () =>
      soundAt(`/api/assemblies/${assembly}/sound?${new URLSearchParams({ path })}`, path),
    onSuccess: (heard) => {
      player.current ??= new Player();
      setIsPlaying(true);
      player.current.play(heard, {
        name: VOICE,
        isLooped: false,
        onEnd: () => setIsPlaying(false),
      });
    },
  });
  const stop = () => {
    player.current?.stop(VOICE);
    setIsPlaying(false);
  };
  return (
    <>
      <Button
        hotkey=" "
        onClick={() => (isPlaying ? stop() : hear.mutate())}
        disabled={hear.isPending}
        data-testid="hear"
        data-playing={isPlaying}
      >
        {isPlaying ? say.sounds.stop : say.sounds.play}
      </Button>
      <ErrorAlert>{hear.error && say.sounds.canNotBeHeard({ why: hear.error.message })}</ErrorAlert>
    </>
  );
}
