'use client';
/** Files and folders on their way into the holdings, and what is told of each. */
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { filesDropped, takeInFiles, takeInFolder, type Intake, type PathedFile } from './take-in';
import { say } from '@/messages';

/** Lines told of what was taken in. */
const MAX_TOLD = 300;

export interface FolderProgress {
  done: number;
  of: number;
  stop: AbortController;
}

const reasonOf = (error: unknown) => (error instanceof Error ? error.message : String(error));

export function useTakingIn() {
  const router = useRouter();
  const [intakes, setIntakes] = useState<Intake[]>([]);
  const [folder, setFolder] = useState<FolderProgress | null>(null);
  const tell = (intake: Intake) =>
    setIntakes((was) =>
      [intake, ...was.filter(({ name }) => name !== intake.name)].slice(0, MAX_TOLD),
    );
  const refuseFolder = (text: string) =>
    tell({ name: say.holdings.theFolder, outcome: 'refused', text });
  const takeIn = async (files: readonly File[]) => {
    const codes = await takeInFiles(files, tell);
    if (files.length === 1 && codes.length === 1) router.push(`/media/${codes[0]}`);
  };
  const takeFolder = async (files: readonly PathedFile[]) => {
    const stop = new AbortController();
    setFolder({ done: 0, of: files.length, stop });
    try {
      await takeInFolder(files, tell, (done, of) => setFolder({ done, of, stop }), stop.signal);
    } catch (error) {
      refuseFolder(say.holdings.itCantBeRead({ error: reasonOf(error) }));
    } finally {
      setFolder(null);
    }
  };
  const drop = (dropped: DataTransfer) => {
    const isFolder = [...dropped.items].some((item) => item.webkitGetAsEntry()?.isDirectory);
    if (!isFolder) return void takeIn([...dropped.files]);
    void filesDropped(dropped.items).then(takeFolder, (error: unknown) =>
      refuseFolder(say.holdings.itCantBeReadNothing({ error: String(error) })),
    );
  };
  return { intakes, folder, takeIn, takeFolder, drop };
}
