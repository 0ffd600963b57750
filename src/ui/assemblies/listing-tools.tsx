'use client';
/** What is done to a file of a volume that takes shape: named, typed, dated, locked, taken off. */
import { Dispatch, RefObject, SetStateAction, type KeyboardEvent, type ReactNode } from 'react';
import type { Edit } from '@/core/assembly/edits';
import { Button } from '../parts/button';
import { ASKED, type Asked, type Entry } from './asked-name';
import { say } from '@/messages';

export function useNaming(
  setTyped: Dispatch<SetStateAction<string>>,
  entry: Entry | undefined,
  setNaming: Dispatch<SetStateAction<'type' | 'rename' | 'modified' | 'folder' | null>>,
  typed: string,
  onEdit: ((edit: Edit) => void) | null,
  naming: string | null,
  folder: string,
) {
  const begin = (what: Asked) => {
    setTyped(
      what === 'folder'
        ? ''
        : what === 'rename'
          ? entry!.path.split('/').pop()!
          : what === 'type'
            ? (entry!.type ?? '')
            : (entry!.modified?.replace('T', ' ') ?? ''),
    );
    setNaming(what);
  };
  const name = () => {
    const text = typed.trim();
    if (text === '' || !onEdit) return;
    if (naming === 'folder')
      onEdit({ kind: 'folder', path: folder === '' ? text : `${folder}/${text}` });
    else if (naming === 'rename') onEdit({ kind: 'rename', path: entry!.path, name: text });
    else if (naming === 'type') onEdit({ kind: 'attributes', path: entry!.path, type: text });

    // A day alone is that day at midnight.
    else
      onEdit({
        kind: 'attributes',
        path: entry!.path,
        modified: `${text.replace(' ', 'T')}T00:00:00`.slice(0, 19),
      });
    setNaming(null);
  };
  const keys = (event: KeyboardEvent) => {
    if (event.key === 'Enter') name();
    if (event.key === 'Escape') setNaming(null);
  };
  return { begin, keys, name };
}

interface ListingToolsProps {
  picker: RefObject<HTMLInputElement | null>;
  hasFolders: boolean;
  begin: (what: Asked) => void;
  entry: Entry | undefined;
  hasTypes: boolean;
  isChosenFolder: boolean;
  keeps: readonly ('type' | 'modified' | 'locked' | 'address')[];
  onEdit: (edit: Edit) => void;
  move: (by: number) => void;
  onFolder: (folder: string) => void;
  folder: string;
  onUpload: (files: readonly File[]) => void;
  /** What else can be done with the entry. */
  children?: ReactNode;
}

export function ListingTools({
  picker,
  hasFolders,
  begin,
  entry,
  hasTypes,
  isChosenFolder,
  keeps,
  onEdit,
  move,
  onFolder,
  folder,
  onUpload,
  children,
}: ListingToolsProps) {
  return (
    <div className="mb-2 flex flex-wrap items-center gap-1.5">
      <Button hotkey="t" onClick={() => picker.current?.click()}>
        {say.assemblies.fromThisComputer}
      </Button>
      {hasFolders && (
        <Button hotkey="f" onClick={() => begin('folder')}>
          {say.assemblies.newFolder}
        </Button>
      )}
      <Button hotkey="n" disabled={!entry} onClick={() => begin('rename')}>
        {say.assemblies.rename}
      </Button>
      {hasTypes && (
        <Button hotkey="y" disabled={!entry || isChosenFolder} onClick={() => begin('type')}>
          {say.assemblies.type}
        </Button>
      )}
      {keeps.includes('modified') && (
        <Button hotkey="a" disabled={!entry || isChosenFolder} onClick={() => begin('modified')}>
          {say.assemblies.date}
        </Button>
      )}
      {keeps.includes('locked') && (
        <Button
          hotkey="l"
          disabled={!entry || isChosenFolder}
          onClick={() => onEdit({ kind: 'attributes', path: entry!.path, locked: !entry!.locked })}
        >
          {entry?.locked ? say.assemblies.unlock : say.assemblies.lock}
        </Button>
      )}
      <Button
        hotkey="x"
        disabled={!entry}
        onClick={() => {
          onEdit({ kind: 'remove', path: entry!.path });
          move(1);
        }}
      >
        {say.assemblies.takeOff}
      </Button>
      {isChosenFolder && (
        <Button hotkey="Enter" onClick={() => onFolder(folder === entry!.path ? '' : entry!.path)}>
          {folder === entry!.path ? say.assemblies.putFilesAtThe : say.assemblies.putFilesInHere}
        </Button>
      )}
      {children}
      <input
        ref={picker}
        type="file"
        multiple
        hidden
        data-testid="from-desktop"
        onChange={(event) => {
          onUpload([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
    </div>
  );
}

interface NamingFormProps {
  naming: Asked;
  entry: Entry | undefined;
  typed: string;
  setTyped: Dispatch<SetStateAction<string>>;
  keys: (event: KeyboardEvent) => void;
  name: () => void;
  setNaming: Dispatch<SetStateAction<'type' | 'rename' | 'modified' | 'folder' | null>>;
}

export function NamingForm({
  naming,
  entry,
  typed,
  setTyped,
  keys,
  name,
  setNaming,
}: NamingFormProps) {
  return (
    <div className="mb-2 flex items-center gap-2 border border-line bg-sheet px-3 py-2 text-[13px]">
      <label className="flex flex-1 items-center gap-2">
        <span>
          {ASKED[naming]} {naming !== 'folder' && <span className="font-mono">{entry?.path}</span>}
        </span>
        <input
          autoFocus
          value={typed}
          data-testid="new-name"
          onChange={(event) => setTyped(event.target.value)}
          onKeyDown={keys}
          autoComplete="off"
          className="flex-1 border border-line bg-ground px-2 py-1 font-mono text-[14px]"
        />
      </label>
      <button type="button" onClick={name} className="font-[650] text-oxide underline">
        {naming === 'folder' ? say.assemblies.makeIt : say.assemblies.changeIt}
      </button>
      <button type="button" onClick={() => setNaming(null)} className="underline">
        {say.assemblies.leaveIt}
      </button>
    </div>
  );
}
