'use client';
/** One volume taking shape: its room, what is on it and what changed, and where more comes from. */
import { tell } from '@/messages/tell';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import {
  Dispatch,
  SetStateAction,
  useEffect,
  useState,
  type DragEvent,
  type ReactNode,
} from 'react';
import { TARGET_PROFILES } from '@/core/assembly/targets';
import type { AssemblyAction } from '@/server/features/assemblies/assemblies';
import type { Outcome } from '@/server/features/assemblies/gather-files';
import { post, troubleOf, upload } from '../data/api';
import { assemblyQuery, type AssemblyData } from '../data/queries';
import { ErrorAlert } from '../parts/page';
import { CapacityRuler } from './capacity-ruler';
import { FileSource, FILE_DRAG } from './file-source';
import { VolumeListing } from './volume-listing';
import { AssemblyHead } from './assembly-head';
import { say } from '@/messages';
import { TARGET_NAMES } from '@/messages/names';
import { Told } from './assembly-told';
import { docketPage } from '../data/addresses';

interface TargetProps {
  data: AssemblyData;
  onChoose: (target: string | null) => void;
  settled: boolean;
}

function Target({ data, onChoose, settled }: TargetProps) {
  const { target } = data;
  const willRead = !target?.findings.some(({ weight }) => weight === 'stops');
  return (
    <section
      aria-label={say.assemblies.theMachineThatIs}
      data-testid="target"
      className="mb-4 text-[13px]"
    >
      <TargetChoice target={target} settled={settled} onChoose={onChoose} willRead={willRead} />
      {target?.findings.map(({ sentence, weight }) => (
        <p
          key={tell(sentence)}
          className={
            weight === 'stops'
              ? 'mt-1 border-l-4 border-oxide bg-oxide-wash px-3 py-1'
              : 'mt-1 border-l-4 border-line px-3 py-1 text-ink-2'
          }
        >
          {tell(sentence)}
        </p>
      ))}
    </section>
  );
}

interface TargetChoiceProps {
  target: AssemblyData['target'];
  settled: boolean;
  onChoose: (target: string | null) => void;
  willRead: boolean;
}

function TargetChoice({ target, settled, onChoose, willRead }: TargetChoiceProps) {
  return (
    <label className="flex items-center gap-2 text-ink-2">
      {say.assemblies.toBeReadBy}
      <select
        value={target?.id ?? ''}
        disabled={settled}
        onChange={(event) => onChoose(event.target.value || null)}
        className="border border-line bg-sheet px-2 py-1 text-ink"
      >
        <option value="">{say.assemblies.aMachineNotChosen}</option>
        {TARGET_PROFILES.map(({ id }) => (
          <option key={id} value={id}>
            {TARGET_NAMES[id]}
          </option>
        ))}
      </select>
      {target && willRead && <b className="text-verdigris">{say.assemblies.itWillReadIt}</b>}
      {target && !willRead && <b className="text-oxide">{say.assemblies.itWillNotRead}</b>}
    </label>
  );
}

/** What is done to the assembly, and what follows from the answers. */
function useActions(
  id: number,
  onOutcome: (outcome: Outcome) => void,
  onChoose: (path: string) => void,
) {
  const router = useRouter();
  return useMutation({
    mutationFn: (action: AssemblyAction) => post<Partial<Outcome>>(`/api/assemblies/${id}`, action),
    onSuccess: (answer, action) => {
      if (answer.put && answer.left) onOutcome({ put: answer.put, left: answer.left });
      if (action.do === 'discard') router.push('/assembly');
      if (action.do === 'edit' && action.edit.kind === 'rename')
        onChoose(
          `${action.edit.path.slice(0, action.edit.path.lastIndexOf('/') + 1)}${action.edit.name}`,
        );
    },
  });
}

/** Goes on to the image once it is there, where it was asked for on this page. */
function useSettledImage(
  { variables }: { variables: AssemblyAction | undefined },
  code: string | null,
) {
  const router = useRouter();
  const isAsked = variables?.do === 'settle';
  useEffect(() => {
    if (isAsked && code) router.push(docketPage(code));
  }, [isAsked, code, router]);
}

interface DropZoneProps {
  closed: boolean;
  onAdd: (files: readonly number[]) => void;
  onFiles: (files: readonly File[]) => Promise<void>;
  children: ReactNode;
}

/** Where files are dropped: from the list beside it by their numbers, from the desktop as they are. */
function DropZone({ closed, onAdd, onFiles, children }: DropZoneProps) {
  const [over, setOver] = useState(false);
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    if (closed) return;
    const own = event.dataTransfer.getData(FILE_DRAG);
    if (own) onAdd(own.split(',').map(Number));
    else void onFiles([...event.dataTransfer.files]);
  };
  return (
    <div
      data-testid="volume"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(!closed);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={over ? 'outline-2 outline-dashed outline-oxide' : ''}
    >
      {children}
    </div>
  );
}

export function AssemblyView({ id }: { id: number }) {
  const { data, error } = useQuery(assemblyQuery(id));
  const [chosen, setChosen] = useState<string | null>(null);
  const [folder, setFolder] = useState('');
  const [outcome, setOutcome] = useState<Outcome | null>(null);
  const [busy, setBusy] = useState<string | null>(null);
  const act = useActions(id, setOutcome, setChosen);
  useSettledImage(act, data?.settledAs ?? null);
  const uploadFiles = uploader(setBusy, id, folder, setOutcome);
  if (!data)
    return error ? (
      <>
        <h1>{say.assemblies.thisAssemblyCantBe}</h1>
        <ErrorAlert>{error.message}</ErrorAlert>
      </>
    ) : (
      <h1>{say.assemblies.openingTheAssembly}</h1>
    );
  // While it is being settled it takes no more changes either.
  const settled = data.settledAs !== null || data.isSettling;
  const add = (files: readonly number[], into = folder) =>
    act.mutate({ do: 'add', files: [...files], folder: into });
  return (
    <div className="flex min-h-full flex-col">
      <AssemblyHead data={data} act={act} />
      <CapacityRuler room={data.room} entries={data.entries} chosen={chosen} onChoose={setChosen} />
      <Target
        data={data}
        settled={settled}
        onChoose={(target) => act.mutate({ do: 'target', target })}
      />
      <ErrorAlert>{troubleOf(act.error)}</ErrorAlert>
      <ErrorAlert>
        {data.trouble && say.assemblies.couldNotBeSettled({ trouble: data.trouble })}
      </ErrorAlert>
      {busy && (
        <p aria-live="polite" className="mb-2 text-[13px]">
          {busy}
        </p>
      )}
      {outcome && <Told outcome={outcome} onDone={() => setOutcome(null)} />}
      {data.problems.length > 0 && <VolumeProblems problems={data.problems} />}
      <div
        className={`grid min-h-0 flex-1 gap-5 ${settled ? '' : 'grid-cols-[minmax(0,1fr)_minmax(0,430px)]'}`}
      >
        <DropZone closed={settled} onAdd={add} onFiles={uploadFiles}>
          <VolumeListing
            data={data}
            chosen={chosen}
            onChoose={setChosen}
            folder={folder}
            onFolder={setFolder}
            onEdit={settled ? null : (edit) => act.mutate({ do: 'edit', edit })}
            onUpload={(files) => void uploadFiles(files)}
          />
        </DropZone>
        {!settled && (
          <FileSource
            onAdd={add}
            onGather={(copies, how) => act.mutate({ do: 'gather', copies: [...copies], how })}
            hasFolders={data.hasFolders}
            folder={folder}
          />
        )}
      </div>
      <Done data={data} onDiscard={settled ? null : () => act.mutate({ do: 'discard' })} />
    </div>
  );
}

function VolumeProblems({ problems }: Pick<AssemblyData, 'problems'>) {
  return (
    <ul className="mb-3 border-l-4 border-line pl-3 text-[13px] text-ink-2">
      {problems.slice(0, 8).map((problem) => (
        <li key={problem}>{problem}</li>
      ))}
    </ul>
  );
}

function uploader(
  setBusy: Dispatch<SetStateAction<string | null>>,
  id: number,
  folder: string,
  setOutcome: Dispatch<SetStateAction<Outcome | null>>,
) {
  return async (files: readonly File[]) => {
    const all: Outcome = { put: [], left: [] };
    for (const file of files) {
      setBusy(say.assemblies.puttingIn({ name: file.name }));
      try {
        const { put, left } = await upload<Outcome>(
          `/api/assemblies/${id}/files?${new URLSearchParams({ name: file.name, folder })}`,
          file,
        );
        all.put.push(...put);
        all.left.push(...left);
      } catch (failed) {
        all.left.push({
          name: file.name,
          why: failed instanceof Error ? failed.message : String(failed),
        });
      }
    }
    setBusy(null);
    setOutcome(all);
  };
}

interface DoneProps {
  data: AssemblyData;
  onDiscard: (() => void) | null;
}

/** What was done, the last first. */
function Done({ data: { done, undone }, onDiscard }: DoneProps) {
  const [sure, setSure] = useState(false);
  return (
    <details className="mt-4 border-t border-line py-3 text-[13px]">
      <summary className="cursor-pointer font-[650]">
        {say.assemblies.text2({ done: done.length })}
        {undone.length > 0 && say.assemblies.undone({ undone: undone.length })}
      </summary>
      <DoneList undone={undone} done={done} />
      {onDiscard &&
        (sure ? (
          <DiscardSurely onDiscard={onDiscard} setSure={setSure} />
        ) : (
          <button type="button" onClick={() => setSure(true)} className="mt-3 text-oxide underline">
            {say.assemblies.throwThisAssemblyAway}
          </button>
        ))}
    </details>
  );
}

function DoneList({ undone, done }: { undone: string[]; done: string[] }) {
  return (
    <ol className="mt-2 max-h-60 overflow-auto">
      {undone.map((words, i) => (
        <li key={`undone-${i}`} className="text-ink-2 line-through">
          {words}
        </li>
      ))}
      {[...done].reverse().map((words, i) => (
        <li key={done.length - i}>
          {done.length - i}. {words}
        </li>
      ))}
    </ol>
  );
}

function DiscardSurely({
  onDiscard,
  setSure,
}: {
  onDiscard: () => void;
  setSure: Dispatch<SetStateAction<boolean>>;
}) {
  return (
    <p className="mt-3 flex items-center gap-3">
      {say.assemblies.itWillBeGone}{' '}
      <button type="button" onClick={onDiscard} className="font-[650] text-oxide underline">
        {say.assemblies.throwItAway}
      </button>
      <button type="button" onClick={() => setSure(false)} className="underline">
        {say.assemblies.keepIt}
      </button>
    </p>
  );
}
