'use client';
/** Photos, scans and papers beside a medium, dropped here; and what its set shares. */
import { useMutation, UseMutationResult } from '@tanstack/react-query';
import {
  Dispatch,
  RefObject,
  SetStateAction,
  useEffect,
  useRef,
  useState,
  type DragEvent,
} from 'react';
import { remove } from '../data/api';
import type { DocketData } from '../data/queries';
import { Button } from '../parts/button';
import { Dialog } from '../parts/dialog';
import { grouped } from '@/core/text/grouped';
import { ErrorAlert } from '../parts/page';
import {
  OUTBOX_EVENT,
  forgetOutgoing,
  keepOutgoing,
  outgoing,
  sharedBy,
  type Outgoing,
} from './outbox';
import { say } from '@/messages';

type Paper = DocketData['papers'][number];

/** What still waits for one owner. */
function useWaiting(owner: string): [string, Outgoing][] {
  const [waiting, setWaiting] = useState<[string, Outgoing][]>([]);
  useEffect(() => {
    let gone = false;
    const look = () =>
      void outgoing().then((all) => {
        if (!gone) setWaiting(all.filter(([, each]) => each.owner === owner));
      });
    look();
    window.addEventListener(OUTBOX_EVENT, look);
    return () => {
      gone = true;
      window.removeEventListener(OUTBOX_EVENT, look);
    };
  }, [owner]);
  return waiting;
}

function Shown({ paper, onOpen }: { paper: Paper; onOpen: () => void }) {
  const picture = paper.type.startsWith('image/');
  return (
    <button
      type="button"
      onClick={onOpen}
      className="w-40 border border-line bg-sheet text-left hover:border-ink-3"
    >
      {picture ? (
        // eslint-disable-next-line @next/next/no-img-element -- the bytes are the evidence: no resizing service between
        <img
          src={`/api/papers/${paper.id}`}
          alt={paper.name}
          className="h-28 w-full object-cover"
          loading="lazy"
        />
      ) : (
        <span className="flex h-28 items-center justify-center bg-sunk text-[22px] font-[650] text-ink-2">
          {paper.type === 'text/plain' ? say.media.text2 : say.media.pdf}
        </span>
      )}
      <span className="block truncate px-2 pt-1 text-[13px]" title={paper.name}>
        {paper.name}
      </span>
      <span className="block px-2 pb-1 text-[12px] text-ink-2">
        {say.media.bytes({ bytes: grouped(paper.bytes) })}
        {paper.own ? '' : say.media.ofTheSet}
      </span>
    </button>
  );
}

interface PapersProps {
  /** Whom they are of, as a request says it. */
  owner: string;
  papers: readonly Paper[];
  /** What a paper of its own is said to be of. */
  ownPart?: string;
  /** A set that may share some. */
  set?: { name: string } | null;
}

export function Papers({
  owner: own,
  papers,
  ownPart = say.media.ofThisMedium,
  set = null,
}: PapersProps) {
  const [forSet, setForSet] = useState(false);
  const owner = forSet && set ? sharedBy(set) : own;
  const waiting = useWaiting(owner);
  const add = (files: readonly File[]) => keepOutgoing(owner, files);
  const [over, setOver] = useState(false);
  const [open, setOpen] = useState<Paper | null>(null);
  const picker = useRef<HTMLInputElement>(null);
  const takeAway = useMutation({
    mutationFn: (id: number) => remove(`/api/papers/${id}`),
    onSuccess: () => setOpen(null),
  });
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void add([...event.dataTransfer.files]);
  };
  return (
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      data-testid="papers"
      className={over ? 'outline-2 outline-dashed outline-oxide outline-offset-4' : ''}
    >
      <div className="flex flex-wrap gap-3">
        {papers.map((paper) => (
          <Shown key={paper.id} paper={paper} onOpen={() => setOpen(paper)} />
        ))}
      </div>
      {waiting.length > 0 && <PapersWaiting waiting={waiting} />}
      <AddPapers
        picker={picker}
        add={add}
        papers={papers}
        set={set}
        forSet={forSet}
        setForSet={setForSet}
      />
      <PaperDialog open={open} setOpen={setOpen} ownPart={ownPart} takeAway={takeAway} />
    </div>
  );
}

function PapersWaiting({ waiting }: { waiting: [string, Outgoing][] }) {
  return (
    <ul className="mt-2 text-[13px]" aria-live="polite">
      {waiting.map(([key, { name, refused }]) => (
        <li key={key} className="flex items-center gap-3 border-b border-line py-1">
          <b>{name}</b>
          <span className="flex-1">{refused ?? say.media.onItsWayKept}</span>
          <button
            type="button"
            onClick={() => void forgetOutgoing(key)}
            className="text-oxide underline"
          >
            {say.media.forgetIt}
          </button>
        </li>
      ))}
    </ul>
  );
}

interface AddPapersProps {
  picker: RefObject<HTMLInputElement | null>;
  add: (files: readonly File[]) => Promise<void>;
  papers: readonly Paper[];
  set: { name: string } | null;
  forSet: boolean;
  setForSet: Dispatch<SetStateAction<boolean>>;
}

interface ForSetProps extends Pick<AddPapersProps, 'forSet' | 'setForSet'> {
  name: string;
}

function ForSet({ name, forSet, setForSet }: ForSetProps) {
  return (
    <label className="flex items-center gap-1.5">
      <input
        type="checkbox"
        className="size-4"
        checked={forSet}
        onChange={(event) => setForSet(event.target.checked)}
      />
      {say.media.forTheWholeSet({ name })}
    </label>
  );
}

function AddPapers({ picker, add, papers, set, forSet, setForSet }: AddPapersProps) {
  return (
    <div className="mt-2 flex items-center gap-3 text-[13px] text-ink-2">
      <input
        ref={picker}
        type="file"
        multiple
        hidden
        accept="image/png,image/jpeg,image/gif,image/webp,application/pdf,text/plain"
        data-testid="paper-file"
        onChange={(event) => {
          void add([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
      <Button hotkey="a" onClick={() => picker.current?.click()}>
        {say.media.addPhotosScansPdfs}
      </Button>
      <span>{say.media.orDropThemHere({ papers: papers.length })}</span>
      {set && <ForSet name={set.name} forSet={forSet} setForSet={setForSet} />}
    </div>
  );
}

interface PaperDialogProps {
  open: Paper | null;
  setOpen: (paper: Paper | null) => void;
  ownPart: string;
  takeAway: UseMutationResult<unknown, Error, number, unknown>;
}

function PaperItself({ paper }: { paper: NonNullable<PaperDialogProps['open']> }) {
  const address = `/api/papers/${paper.id}`;
  // A document runs whatever its viewer lets it run: in none of ours.
  if (paper.type === 'application/pdf')
    return <p className="border border-line bg-sunk px-4 py-6">{say.media.pdfIsNotShown}</p>;
  return paper.type.startsWith('image/') ? (
    // eslint-disable-next-line @next/next/no-img-element -- as above
    <img src={address} alt={paper.name} className="mx-auto max-h-[56vh]" />
  ) : (
    <iframe
      src={address}
      title={paper.name}
      className="h-[56vh] w-full border border-line bg-white"
    />
  );
}

function PaperDialog({ open, setOpen, ownPart, takeAway }: PaperDialogProps) {
  return (
    <Dialog
      open={open !== null}
      onOpenChange={(shown) => !shown && setOpen(null)}
      wide
      title={open?.name ?? ''}
      about={
        open
          ? say.media.addedBySha256({
              ownPart: open.own ? ownPart : say.media.sharedByItsSet,
              who: open.who,
              sha256: open.sha256,
            })
          : ''
      }
    >
      {open && <PaperItself paper={open} />}
      <PaperActions open={open} takeAway={takeAway} setOpen={setOpen} />
      <ErrorAlert>{takeAway.error?.message}</ErrorAlert>
    </Dialog>
  );
}

interface PaperActionsProps {
  open: PaperDialogProps['open'];
  takeAway: PaperDialogProps['takeAway'];
  setOpen: PaperDialogProps['setOpen'];
}

function PaperActions({ open, takeAway, setOpen }: PaperActionsProps) {
  return (
    <div className="mt-3 flex justify-end gap-3">
      {open && (
        <a
          href={`/api/papers/${open.id}`}
          download={open.name}
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          {say.media.download}
        </a>
      )}
      {open && (
        <Button disabled={takeAway.isPending} onClick={() => takeAway.mutate(open.id)}>
          {say.media.itDoesNotBelong}
        </Button>
      )}
      <Button onClick={() => setOpen(null)}>{say.media.close}</Button>
    </div>
  );
}
