'use client';
/**
 * What is on the volume, with what changed of each: chosen by arrows, renamed, locked and taken off
 * by keys.
 */
import { useRef, useState, type KeyboardEvent } from 'react';
import type { Edit } from '@/core/assembly/edits';
import type { AssemblyData } from '../data/queries';
import { Button } from '../parts/button';
import { grouped } from '../parts/grade';
import { EmptyState } from '../parts/page';
import { useKey } from '../parts/keys';

const CHANGES: Record<string, string> = {
  new: 'new',
  'other-content': 'other content',
  'other-name': 'renamed',
  'other-marks': 'marks changed',
  gone: 'gone',
};

const parentOf = (path: string) => path.slice(0, Math.max(0, path.lastIndexOf('/')));

interface ListingProps {
  data: AssemblyData;
  chosen: string | null;
  onChoose: (path: string | null) => void;
  /** Where files go that are put in. */
  folder: string;
  onFolder: (folder: string) => void;
  /** Null where it is settled. */
  onEdit: ((edit: Edit) => void) | null;
  onUpload: (files: readonly File[]) => void;
}

/** What is asked for in the line above the listing. */
const ASKED = {
  rename: 'New name of',
  folder: 'Name of the folder',
  type: 'Type of',
  modified: 'Date and time of',
} as const;
type Asked = keyof typeof ASKED;

export function VolumeListing({
  data: { entries, gone, room, hasFolders, keeps },
  chosen,
  onChoose,
  folder,
  onFolder,
  onEdit,
  onUpload,
}: ListingProps) {
  const [naming, setNaming] = useState<Asked | null>(null);
  const [typed, setTyped] = useState('');
  const picker = useRef<HTMLInputElement>(null);
  const at = entries.findIndex(({ path }) => path === chosen);
  const entry = entries[at];
  const move = (by: number) =>
    onChoose(
      entries[Math.max(0, Math.min(entries.length - 1, at < 0 ? 0 : at + by))]?.path ?? null,
    );
  useKey('ArrowDown', entries.length > 0 ? () => move(1) : undefined);
  useKey('ArrowUp', entries.length > 0 ? () => move(-1) : undefined);
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
  const isChosenFolder = entry?.kind === 'directory';
  const hasTypes = keeps.includes('type');
  return (
    <>
      {onEdit && (
        <div className="mb-2 flex flex-wrap items-center gap-1.5">
          <Button hotkey="t" onClick={() => picker.current?.click()}>
            From this computer
          </Button>
          {hasFolders && (
            <Button hotkey="f" onClick={() => begin('folder')}>
              New folder
            </Button>
          )}
          <Button hotkey="n" disabled={!entry} onClick={() => begin('rename')}>
            Rename
          </Button>
          {hasTypes && (
            <Button hotkey="y" disabled={!entry || isChosenFolder} onClick={() => begin('type')}>
              Type
            </Button>
          )}
          {keeps.includes('modified') && (
            <Button
              hotkey="a"
              disabled={!entry || isChosenFolder}
              onClick={() => begin('modified')}
            >
              Date
            </Button>
          )}
          {keeps.includes('locked') && (
            <Button
              hotkey="l"
              disabled={!entry || isChosenFolder}
              onClick={() =>
                onEdit({ kind: 'attributes', path: entry!.path, locked: !entry!.locked })
              }
            >
              {entry?.locked ? 'Unlock' : 'Lock'}
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
            Take off
          </Button>
          {isChosenFolder && (
            <Button
              hotkey="Enter"
              onClick={() => onFolder(folder === entry.path ? '' : entry.path)}
            >
              {folder === entry.path ? 'Put files at the top again' : 'Put files in here'}
            </Button>
          )}
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
      )}
      {naming && (
        <div className="mb-2 flex items-center gap-2 border border-line bg-sheet px-3 py-2 text-[13px]">
          <label className="flex flex-1 items-center gap-2">
            <span>
              {ASKED[naming]}{' '}
              {naming !== 'folder' && <span className="font-mono">{entry?.path}</span>}
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
            {naming === 'folder' ? 'Make it' : 'Change it'}
          </button>
          <button type="button" onClick={() => setNaming(null)} className="underline">
            Leave it
          </button>
        </div>
      )}
      {entries.length === 0 && gone.length === 0 && (
        <EmptyState>
          Nothing is on it. Look for files at the side and press Enter on one, or drop files from
          this computer here.
        </EmptyState>
      )}
      {(entries.length > 0 || gone.length > 0) && (
        <table className="w-full border-collapse text-[13px]">
          <thead>
            <tr className="border-b border-line [&>th]:pb-1">
              <th>Name</th>
              <th className="pr-4 text-right">Bytes</th>
              <th className="pr-4 text-right">
                {room.unit === 'byte'
                  ? 'Takes'
                  : `${room.unit[0]!.toUpperCase()}${room.unit.slice(1)}s`}
              </th>
              {hasTypes && <th>Type</th>}
              <th>Dated</th>
              <th>Change</th>
            </tr>
          </thead>
          <tbody>
            {entries.map((file) => (
              <tr
                key={file.path}
                data-path={file.path}
                aria-selected={file.path === chosen}
                onClick={() => onChoose(file.path)}
                className="h-8 cursor-pointer border-b border-line aria-selected:bg-oxide-wash"
              >
                <td className="pr-3 font-mono">
                  <span style={{ paddingLeft: 14 * (file.path.split('/').length - 1) }}>
                    {file.path.slice(
                      parentOf(file.path) === '' ? 0 : parentOf(file.path).length + 1,
                    )}
                    {file.kind === 'directory' && '/'}
                  </span>
                  {folder === file.path && (
                    <b className="ml-2 font-sans text-[12px] text-oxide">files go here</b>
                  )}
                  {file.locked && (
                    <span className="ml-2 font-sans text-[12px] text-ink-2">locked</span>
                  )}
                </td>
                <td className="pr-4 text-right">{file.kind === 'file' && grouped(file.bytes)}</td>
                <td className="pr-4 text-right">{file.cost !== null && grouped(file.cost)}</td>
                {hasTypes && <td className="pr-3 font-mono text-ink-2">{file.type ?? ''}</td>}
                <td className="whitespace-nowrap pr-3 text-ink-2">
                  {file.modified?.slice(0, 10) ?? ''}
                </td>
                <td>
                  {file.change && (
                    <span
                      className={file.change === 'new' ? 'font-[650] text-oxide' : 'text-oxide'}
                    >
                      {CHANGES[file.change]}
                      {file.was && (
                        <>
                          , was <span className="font-mono">{file.was}</span>
                        </>
                      )}
                    </span>
                  )}
                </td>
              </tr>
            ))}
            {gone.map((path) => (
              <tr key={`gone-${path}`} className="h-8 border-b border-line text-ink-2">
                <td colSpan={hasTypes ? 5 : 4} className="font-mono line-through">
                  {path}
                </td>
                <td>{CHANGES.gone}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
