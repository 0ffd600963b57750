'use client';
/** Files and folders on their way into the holdings, and what is told of each. */
import { useRouter } from 'next/navigation';
import { useRef, useState } from 'react';
import { filesDropped, takeInFiles, takeInFolder, type Intake, type PathedFile } from './take-in';
import { rememberedWhose, rememberWhose, type Whose } from './whose';
import { say } from '@/messages';
import { docketPage } from '../../data/addresses';

/** Lines told of what was taken in. */
const MAX_TOLD = 300;

export interface FolderProgress {
  done: number;
  of: number;
  stop: AbortController;
}

/** What waits for somebody to say from whom it is. */
export interface AskedWhose {
  go(whose: Whose): void;
  leave(): void;
}

const reasonOf = (error: unknown) => (error instanceof Error ? error.message : String(error));

export function useTakingIn() {
  const router = useRouter();
  const [intakes, setIntakes] = useState<Intake[]>([]);
  const [folder, setFolder] = useState<FolderProgress | null>(null);
  /** What is dropped while it is asked whose it is waits with the rest. */
  const [waiting, setWaiting] = useState<(() => void)[]>([]);
  const tell = (intake: Intake) =>
    setIntakes((was) =>
      [intake, ...was.filter(({ name }) => name !== intake.name)].slice(0, MAX_TOLD),
    );
  const refuseFolder = (text: string) =>
    tell({ name: say.holdings.theFolder, outcome: 'refused', text });
  /** Of this page; of one before it where nothing was said on this one. */
  const whose = useRef<Whose | null>(null);
  const go = (given: Whose) => {
    whose.current = given;
    rememberWhose(given);
    setWaiting([]);
    for (const begin of waiting) begin();
  };
  const takeIn = async (files: readonly File[]) => {
    const codes = await takeInFiles(files, whose.current ?? rememberedWhose(), tell);
    const [only, ...others] = codes;
    if (files.length === 1 && only !== undefined && others.length === 0)
      router.push(docketPage(only));
  };
  const takeFolder = async (files: readonly PathedFile[]) => {
    const stop = new AbortController();
    setFolder({ done: 0, of: files.length, stop });
    try {
      await takeInFolder(files, whose.current ?? rememberedWhose(), {
        tell,
        progress: (done, of) => setFolder({ done, of, stop }),
        signal: stop.signal,
      });
    } catch (error) {
      refuseFolder(say.holdings.itCantBeRead({ error: reasonOf(error) }));
    } finally {
      setFolder(null);
    }
  };
  const drop = (dropped: DataTransfer) => {
    const isFolder = [...dropped.items].some((item) => item.webkitGetAsEntry()?.isDirectory);
    // What was dropped is there for as long as the event lasts: it is taken at once.
    const files = [...dropped.files];
    if (!isFolder) return askWhose(() => void takeIn(files));
    const found = filesDropped(dropped.items);
    askWhose(() => {
      void found.then(takeFolder, (error: unknown) =>
        refuseFolder(say.holdings.itCantBeReadNothing({ error: String(error) })),
      );
    });
    // Nobody may ever say whose it is.
    found.catch(() => undefined);
  };
  const askWhose = (begin: () => void) => setWaiting((others) => [...others, begin]);
  const leave = () => setWaiting([]);
  const asked = waiting.length > 0 ? { go, leave } : null;
  return { intakes, folder, asked, askWhose, takeIn, takeFolder, drop };
}
