'use client';
/** The sounds of a medium on their way out: their sheet, and all or some as WAV or FLAC and SFZ. */
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { say } from '@/messages';
import type { ExtractAsked } from '@/server/features/extracts/extracts';
import { post } from '../data/api';
import { Button } from '../parts/button';
import { ErrorAlert } from '../parts/page';
import type { Group } from './sound-list';

/** All that sounds, as rows to save. */
export function SheetLinks({ copyId }: { copyId: number }) {
  const sheets = [
    ['csv', say.sounds.sheetAsCsv],
    ['json', say.sounds.sheetAsJson],
  ];
  return sheets.map(([kind, words]) => (
    <a
      key={kind}
      href={`/api/copies/${copyId}/sounds?sheet=${kind}`}
      download
      className="self-center text-[13px] font-[650] text-oxide underline"
    >
      {words}
    </a>
  ));
}

interface HowAsked {
  packed: boolean;
  once: boolean;
}

/** How sounds are taken out, and what takes them: all, or those of the files that are named. */
export function useSoundsOut(copyId: number, wasBegun: () => void) {
  const [how, setHow] = useState<HowAsked>({ packed: false, once: false });
  const { mutate, isPending, error } = useMutation({
    mutationFn: (only: readonly number[] | null) =>
      post('/api/extracts', {
        copies: [copyId],
        what: 'sounds',
        ...how,
        only: only && [...only],
      } satisfies ExtractAsked),
    onSuccess: wasBegun,
  });
  return { how, setHow, take: mutate, isPending, error };
}

export type SoundsOut = ReturnType<typeof useSoundsOut>;

export function TakeSoundsOut({ how, setHow, take, isPending, error }: SoundsOut) {
  const choices = [
    ['packed', say.sounds.packedAsFlac],
    ['once', say.sounds.theSameOnce],
  ] as const;
  return (
    <div className="flex flex-col items-end gap-1">
      <Button hotkey="shift+o" disabled={isPending} onClick={() => take(null)}>
        {say.sounds.takeThemOut}
      </Button>
      <span className="flex gap-4">
        {choices.map(([key, words]) => (
          <label key={key} className="flex items-center gap-2 text-[13px]">
            <input
              type="checkbox"
              className="size-4"
              checked={how[key]}
              disabled={isPending}
              onChange={(event) => setHow({ ...how, [key]: event.target.checked })}
            />
            {words}
          </label>
        ))}
      </span>
      <ErrorAlert>{error?.message}</ErrorAlert>
    </div>
  );
}

interface TakeVolumeOutProps extends Pick<SoundsOut, 'take' | 'isPending'> {
  group: Group | undefined;
}

/** The volume that the chosen sound lies in; nothing of files that are sounds themselves. */
export function TakeVolumeOut({ group, take, isPending }: TakeVolumeOutProps) {
  if (!group || group.files.length === 0) return null;
  return (
    <p className="mt-2 text-[13px]">
      <button
        type="button"
        disabled={isPending}
        onClick={() => take(group.files)}
        className="font-[650] text-oxide underline"
      >
        {say.sounds.takeVolumeOutOf({ volume: group.title })}
      </button>
    </p>
  );
}

/** A program with all that it plays, where it has a file that is kept. */
export function TakeProgramOut({
  file,
  take,
  isPending,
}: Pick<SoundsOut, 'take' | 'isPending'> & { file: number | null }) {
  if (file === null) return null;
  return (
    <Button hotkey="o" disabled={isPending} onClick={() => take([file])}>
      {say.sounds.takeProgramOut}
    </Button>
  );
}
