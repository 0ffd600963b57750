'use client';
/** The file at the cursor where it is a sound: seen over its time and heard without leaving its list. */
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { isSoundName } from '@/core/sound/sound-file';
import { holdsSounds, isSampleType } from '@/core/sound/sounding';
import { say } from '@/messages';
import { Button } from '../parts/button';
import { PlayedSound } from '../sounds/sound-panel';
import { soundAt } from '../sounds/sound-source';
import { usePlayer } from '../sounds/use-player';
import { wavAddress } from '../sounds/wav-file';

interface HearableFile {
  id: number;
  path: string;
  type?: string | null | undefined;
  bytes: number;
}

/** What is larger is fetched when it is asked for. */
const AT_ONCE = 4 << 20;

/** Where a file can be had as one of sound; null of what is none by its name or its type. */
export function soundOf({ id, path, type }: HearableFile, filesystem: string): string | null {
  if (holdsSounds(filesystem)) return isSampleType(type) ? wavAddress(id) : null;
  return isSoundName(path) ? `/api/files/${id}?listen` : null;
}

interface HeardInColumnProps {
  file: HearableFile;
  address: string;
}

export function HeardInColumn({ file, address }: HeardInColumnProps) {
  const [wasAsked, setWasAsked] = useState(false);
  const player = usePlayer();
  const { data: heard, error } = useQuery({
    queryKey: ['heard in column', address],
    queryFn: () => soundAt(address, file.path),
    enabled: wasAsked || file.bytes <= AT_ONCE,
    gcTime: 0,
    staleTime: Infinity,
    retry: false,
  });
  if (error)
    return (
      <p className="mb-2 text-[13px] text-ink-2" role="status">
        {say.sounds.canNotBeHeard({ why: error.message })}
      </p>
    );
  return (
    <div className="mb-3" data-testid="heard-in-column">
      {heard ? (
        <PlayedSound heard={heard} player={player} playsAtOnce={wasAsked} isSmall />
      ) : (
        <Button hotkey=" " disabled={wasAsked} onClick={() => setWasAsked(true)}>
          {say.sounds.play}
        </Button>
      )}
    </div>
  );
}
