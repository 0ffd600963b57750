'use client';
/** The sounds of a medium on their way out: their sheet, and all or some as WAV or FLAC and SFZ. */
import { useMutation } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { say } from '@/messages';
import type { FoundAsked } from '@/server/features/extracts/take-found';
import type { ExtractAsked } from '@/server/features/extracts/extracts';
import { post } from '../data/api';
import { Button } from '../parts/button';
import { ErrorAlert } from '../parts/page';
import type { SoundsAsked } from '../data/queries';
import { partitionOf, type Group } from './sound-list';
import { docketPage } from '../data/addresses';

const LINK = 'self-center text-[13px] font-[650] text-oxide underline';

/** All that sounds, as rows to save and on paper. */
export function SheetLinks({ copyId, code }: { copyId: number; code: string }) {
  const sheets = [
    ['csv', say.sounds.sheetAsCsv],
    ['json', say.sounds.sheetAsJson],
  ];
  return (
    <>
      {sheets.map(([kind, words]) => (
        <a key={kind} href={`/api/copies/${copyId}/sounds?sheet=${kind}`} download className={LINK}>
          {words}
        </a>
      ))}
      <Link href={docketPage(code, '/sounds/sheet')} className={LINK}>
        {say.sounds.sheetOnPaper}
      </Link>
    </>
  );
}

interface HowAsked {
  packed: boolean;
  once: boolean;
}

type Only = readonly number[] | null;

/** How sounds are taken out, and what takes them: all, or those of the files that are named. */
function useTaking(send: (only: Only, how: HowAsked) => Promise<unknown>, wasBegun: () => void) {
  const [how, setHow] = useState<HowAsked>({ packed: false, once: false });
  const { mutate, isPending, error } = useMutation({
    mutationFn: (only: Only) => send(only, how),
    onSuccess: wasBegun,
  });
  return { how, setHow, take: mutate, isPending, error };
}

/** The sounds of one copy. */
export const useSoundsOut = (copyId: number, wasBegun: () => void) =>
  useTaking(
    (only, how) =>
      post('/api/extracts', {
        copies: [copyId],
        what: 'sounds',
        ...how,
        only: only && [...only],
      } satisfies ExtractAsked),
    wasBegun,
  );

/** What a question to all sounds finds, of however many media. */
export const useFoundOut = (question: SoundsAsked, wasBegun: () => void): SoundsOut =>
  useTaking((_, how) => post('/api/sounds', { question, ...how } satisfies FoundAsked), wasBegun);

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
  groups: readonly Group[];
  /** The one that the chosen sound lies in. */
  group: Group | undefined;
}

/**
 * The volume that the chosen sound lies in, or its partition where that has more of them; nothing of
 * files that are sounds themselves.
 */
export function TakeVolumeOut({ groups, group, take, isPending }: TakeVolumeOutProps) {
  if (!group || group.files.length === 0) return null;
  const partition = partitionOf(group);
  const beside = groups.filter((each) => partition !== null && partitionOf(each) === partition);
  const parts = [
    { name: group.title, files: group.files },
    ...(beside.length > 1
      ? [
          {
            name: say.sounds.partition({ name: partition! }),
            files: beside.flatMap(({ files }) => files),
          },
        ]
      : []),
  ];
  return parts.map(({ name, files }) => (
    <p key={name} className="mt-2 text-[13px]">
      <button
        type="button"
        disabled={isPending}
        onClick={() => take(files)}
        className="font-[650] text-oxide underline"
      >
        {say.sounds.takeVolumeOutOf({ volume: name })}
      </button>
    </p>
  ));
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
