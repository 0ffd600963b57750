'use client';
/** A medium or a lot opened as a folder, which any program on this computer reads; and closed again. */
import { useMutation } from '@tanstack/react-query';
import { say } from '@/messages';
import { post } from '../data/api';
import { Button } from '../parts/button';
import { ErrorAlert, when } from '../parts/page';

interface OpenFolder {
  address: string;
  who: string;
  openedAt: string;
  /** It was opened with all of its lot. */
  isOfLot: boolean;
}

interface FolderSwitchProps {
  of: { code: string } | { lot: string };
  /** Null of one that is closed. */
  folder: OpenFolder | null;
}

export function FolderSwitch({ of, folder }: FolderSwitchProps) {
  const change = useMutation({
    mutationFn: (isOpen: boolean) => post('/api/folders', { of, isOpen }),
  });
  // What its lot opened is closed there.
  const isElsewhere = folder?.isOfLot === true && 'code' in of;
  return (
    <div
      className="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1 text-[13px]"
      data-testid="folder"
    >
      {!isElsewhere && (
        <Button disabled={change.isPending} onClick={() => change.mutate(folder === null)}>
          {folder ? say.folders.close : say.folders.open}
        </Button>
      )}
      {folder ? (
        <p>
          <span className="text-ink-2">{say.folders.isOpenAt} </span>
          <a href={folder.address} target="_blank" rel="noreferrer" className="font-mono underline">
            {folder.address}
          </a>{' '}
          <span className="text-ink-2" suppressHydrationWarning>
            {say.folders.since({ who: folder.who, at: when(folder.openedAt) })}
            {isElsewhere && ` · ${say.folders.withItsLot}`}
          </span>
        </p>
      ) : (
        <p className="text-ink-2">{say.folders.about}</p>
      )}
      <ErrorAlert>{change.error?.message}</ErrorAlert>
    </div>
  );
}
