'use client';
/**
 * Where files come from: a search over everything that is kept; Enter puts the chosen one in, a
 * hand may drag it.
 */
import {
  Dispatch,
  RefObject,
  SetStateAction,
  useEffect,
  useRef,
  useState,
  type KeyboardEvent,
} from 'react';
import { useTypedSearch } from '../data/typed-search';
import { grouped } from '@/core/text/grouped';
import { useEnterWhenAnswered } from '../parts/enter-when-answered';
import { useKey } from '../parts/keys';
import type { Holdings } from '../data/queries';
import { say } from '@/messages';

/** What a dragged file is known by, as the numbers of its rows. */
export const FILE_DRAG = 'text/x-spindle-files';

const SHOWN = 100;

interface SourceProps {
  onAdd: (files: readonly number[]) => void;
  onGather: (copies: readonly number[], how: 'folders' | 'prefixes') => void;
  hasFolders: boolean;
  folder: string;
}

/** What answers to the words typed; for a moment that may be what answered to the words before. */
function useFound(typed: string) {
  const { asked, data, answer } = useTypedSearch(typed);
  const found = (data?.found ?? []).filter(({ quarantined }) => !quarantined);
  const files = asked === '' ? [] : found.slice(0, SHOWN);
  return {
    files,
    copies: (data?.copies ?? []).filter(
      ({ findings, fileCount }) => findings === 0 && fileCount > 0,
    ),
    answer,
    isNone: asked !== '' && data !== undefined && files.length === 0,
  };
}

export function FileSource({ onAdd, onGather, hasFolders, folder }: SourceProps) {
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const [media, setMedia] = useState<ReadonlySet<number>>(new Set());
  const input = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLUListElement>(null);
  const { files, copies, answer, isNone } = useFound(typed);
  useKey('/', () => input.current?.focus());
  const enter = useEnterWhenAnswered(answer, () => files[at] && onAdd([files[at].id]));
  const chosen = copies.filter(({ id }) => media.has(id));
  useEffect(() => {
    list.current?.querySelector('[aria-selected=true]')?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  const keys = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown') setAt((was) => Math.min(files.length - 1, was + 1));
    else if (event.key === 'ArrowUp') setAt((was) => Math.max(0, was - 1));
    else if (event.key === 'Enter') enter.press();
    else if (event.key === 'Escape') input.current?.blur();
    else return;
    event.preventDefault();
  };
  const toggle = (id: number) =>
    setMedia((was) => {
      const next = new Set(was);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  return (
    <aside
      aria-label={say.assemblies.whereFilesComeFrom}
      className="min-h-0 border-l border-line pl-5 text-[13px]"
    >
      <SourceSearch
        folder={folder}
        input={input}
        typed={typed}
        onType={(text) => {
          setTyped(text);
          setAt(0);
          enter.forget();
        }}
        keys={keys}
      />
      {files.length > 0 && (
        <FilesFound list={list} files={files} at={at} setAt={setAt} onAdd={onAdd} />
      )}
      {files.length > 1 && (
        <button
          type="button"
          onClick={() => onAdd(files.map(({ id }) => id))}
          className="mt-1 text-oxide underline"
        >
          {say.assemblies.putAllIn({ files: files.length })}
        </button>
      )}
      {isNone && <p className="mt-2 text-ink-2">{say.assemblies.noFileAnswersTo}</p>}
      <h2 className="mb-1 mt-4">{say.assemblies.wholeDisks}</h2>
      <p className="mb-2 text-ink-2">
        {say.assemblies.manySmallVolumesGathered}{' '}
        {hasFolders ? say.assemblies.eachInAFolder : say.assemblies.withTheCodeOf}.
      </p>
      {chosen.length > 0 && (
        <GatherButtons
          hasFolders={hasFolders}
          onGather={onGather}
          chosen={chosen}
          setMedia={setMedia}
        />
      )}
      <DiskChoice copies={copies} media={media} toggle={toggle} />
    </aside>
  );
}

interface SourceSearchProps {
  folder: string;
  input: RefObject<HTMLInputElement | null>;
  typed: string;
  onType: (text: string) => void;
  keys: (event: KeyboardEvent) => void;
}

function SourceSearch({ folder, input, typed, onType, keys }: SourceSearchProps) {
  return (
    <label className="block">
      <span className="text-ink-2">
        {say.assemblies.filesOfEverythingKept}{' '}
        <b className="font-mono text-ink">{folder || say.assemblies.theTopOfThe}</b>
      </span>
      <input
        ref={input}
        type="search"
        data-testid="source"
        value={typed}
        onChange={(event) => onType(event.target.value)}
        onKeyDown={keys}
        placeholder={say.assemblies.aNameACode}
        className="mt-0.5 w-full border border-line bg-sheet px-2 py-1.5 text-[15px]"
      />
    </label>
  );
}

interface FilesFoundProps {
  list: RefObject<HTMLUListElement | null>;
  files: Holdings['found'];
  at: number;
  setAt: Dispatch<SetStateAction<number>>;
  onAdd: (files: readonly number[]) => void;
}

function FilesFound({ list, files, at, setAt, onAdd }: FilesFoundProps) {
  return (
    <ul
      ref={list}
      role="listbox"
      aria-label={say.assemblies.filesFound}
      className="mt-2 max-h-[34vh] overflow-auto border border-line"
      data-testid="files-found"
    >
      {files.map((file, i) => (
        <FileFound key={file.id} i={i} at={at} file={file} setAt={setAt} onAdd={onAdd} />
      ))}
    </ul>
  );
}

interface FileFoundProps {
  i: number;
  at: number;
  file: Holdings['found'][number];
  setAt: Dispatch<SetStateAction<number>>;
  onAdd: (files: readonly number[]) => void;
}

function FileFound({ i, at, file, setAt, onAdd }: FileFoundProps) {
  return (
    <li
      role="option"
      aria-selected={i === at}
      draggable
      onDragStart={(event) => event.dataTransfer.setData(FILE_DRAG, String(file.id))}
      className="flex items-center gap-2 border-b border-line bg-sheet px-2 py-1 aria-selected:bg-oxide-wash"
    >
      <span className="w-[74px] shrink-0 font-mono font-[650]">{file.code}</span>
      <span className="min-w-0 flex-1 truncate font-mono" title={file.path}>
        {file.path}
        {file.deleted && <i className="text-ink-2"> {say.assemblies.deleted}</i>}
      </span>
      <span className="text-ink-2">{grouped(file.bytes)}</span>
      <button
        type="button"
        onClick={() => {
          setAt(i);
          onAdd([file.id]);
        }}
        className="font-[650] text-oxide underline"
      >
        {say.assemblies.putIn2}
      </button>
    </li>
  );
}

interface GatherButtonsProps {
  hasFolders: boolean;
  onGather: (copies: readonly number[], how: 'folders' | 'prefixes') => void;
  chosen: Holdings['copies'];
  setMedia: Dispatch<SetStateAction<ReadonlySet<number>>>;
}

function GatherButtons({ hasFolders, onGather, chosen, setMedia }: GatherButtonsProps) {
  const gather = (how: 'folders' | 'prefixes') => {
    onGather(
      chosen.map(({ id }) => id),
      how,
    );
    setMedia(new Set());
  };
  const link = 'font-[650] text-oxide underline';
  return (
    <p className="mb-2 flex gap-3">
      {hasFolders && (
        <button type="button" onClick={() => gather('folders')} className={link}>
          {say.assemblies.gatherInFolders({ chosen: chosen.length })}
        </button>
      )}
      <button type="button" onClick={() => gather('prefixes')} className={link}>
        {say.assemblies.gatherWithPrefixes({ chosen: chosen.length })}
      </button>
    </p>
  );
}

interface DiskChoiceProps {
  copies: Holdings['copies'];
  media: ReadonlySet<number>;
  toggle: (id: number) => void;
}

function DiskChoice({ copies, media, toggle }: DiskChoiceProps) {
  return (
    <ul className="max-h-[34vh] overflow-auto border border-line" data-testid="disks-found">
      {copies.slice(0, SHOWN).map((copy) => (
        <li key={copy.id} className="border-b border-line bg-sheet">
          <label className="flex items-center gap-2 px-2 py-1">
            <input
              type="checkbox"
              checked={media.has(copy.id)}
              onChange={() => toggle(copy.id)}
              className="size-4"
            />
            <span className="w-[74px] shrink-0 font-mono font-[650]">{copy.code}</span>
            <span className="min-w-0 flex-1 truncate">{copy.title}</span>
            <span className="text-ink-2">
              {say.assemblies.files({ fileCount: copy.fileCount })}
            </span>
          </label>
        </li>
      ))}
    </ul>
  );
}
