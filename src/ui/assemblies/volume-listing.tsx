'use client';
/**
 * What is on the volume, with what changed of each: chosen by arrows, renamed, locked and taken off
 * by keys.
 */
import { useRef, useState } from 'react';
import type { Edit } from '@/core/assembly/edits';
import type { AssemblyData } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { EmptyState } from '../parts/page';
import { useKey } from '../parts/keys';
import { useNaming, ListingTools, NamingForm } from './listing-tools';
import type { Asked, Entry } from './asked-name';
import { HearButton, isSound } from './hear-button';
import { say } from '@/messages';

const CHANGES: Record<string, string> = {
  new: 'new',
  'other-content': say.assemblies.otherContent,
  'other-name': 'renamed',
  'other-marks': say.assemblies.marksChanged,
  gone: 'gone',
};

const parentOf = (path: string) => path.slice(0, Math.max(0, path.lastIndexOf('/')));

/** Moves what is chosen, by the arrow keys as well. */
function useMoving(
  entries: readonly Entry[],
  at: number,
  onChoose: (path: string | null) => void,
): (by: number) => void {
  const move = (by: number) =>
    onChoose(
      entries[Math.max(0, Math.min(entries.length - 1, at < 0 ? 0 : at + by))]?.path ?? null,
    );
  useKey('ArrowDown', entries.length > 0 ? () => move(1) : undefined);
  useKey('ArrowUp', entries.length > 0 ? () => move(-1) : undefined);
  return move;
}

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

export function VolumeListing({
  data: { id, entries, gone, room, hasFolders, keeps },
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
  const move = useMoving(entries, at, onChoose);
  const { begin, keys, name } = useNaming(
    setTyped,
    entry,
    setNaming,
    typed,
    onEdit,
    naming,
    folder,
  );
  const isChosenFolder = entry?.kind === 'directory';
  const hasTypes = keeps.includes('type');
  return (
    <>
      {onEdit && (
        <ListingTools
          picker={picker}
          hasFolders={hasFolders}
          begin={begin}
          entry={entry}
          hasTypes={hasTypes}
          isChosenFolder={isChosenFolder}
          keeps={keeps}
          onEdit={onEdit}
          move={move}
          onFolder={onFolder}
          folder={folder}
          onUpload={onUpload}
        >
          {entry && isSound(entry) && (
            <HearButton key={entry.path} assembly={id} path={entry.path} />
          )}
        </ListingTools>
      )}
      {naming && (
        <NamingForm
          naming={naming}
          entry={entry}
          typed={typed}
          setTyped={setTyped}
          keys={keys}
          name={name}
          setNaming={setNaming}
        />
      )}
      {entries.length === 0 && gone.length === 0 && (
        <EmptyState>{say.assemblies.nothingIsOnIt}</EmptyState>
      )}
      {(entries.length > 0 || gone.length > 0) && (
        <ListingTable
          room={room}
          hasTypes={hasTypes}
          entries={entries}
          chosen={chosen}
          onChoose={onChoose}
          folder={folder}
          gone={gone}
        />
      )}
    </>
  );
}

interface ListingTableProps {
  room: { unit: string; unitBytes: number; total: number; free: number; entries: number };
  hasTypes: boolean;
  entries: readonly Entry[];
  chosen: string | null;
  onChoose: (path: string | null) => void;
  folder: string;
  gone: string[];
}

function ListingTable({
  room,
  hasTypes,
  entries,
  chosen,
  onChoose,
  folder,
  gone,
}: ListingTableProps) {
  return (
    <table className="w-full border-collapse text-[13px]">
      <ListingHead room={room} hasTypes={hasTypes} />
      <tbody>
        {entries.map((file) => (
          <ListingRow
            key={file.path}
            file={file}
            chosen={chosen}
            onChoose={onChoose}
            folder={folder}
            hasTypes={hasTypes}
          />
        ))}
        {gone.map((path) => (
          <GoneRow key={`gone-${path}`} hasTypes={hasTypes} path={path} />
        ))}
      </tbody>
    </table>
  );
}

function GoneRow({ hasTypes, path }: { hasTypes: boolean; path: string }) {
  return (
    <tr className="h-8 border-b border-line text-ink-2">
      <td colSpan={hasTypes ? 5 : 4} className="font-mono line-through">
        {path}
      </td>
      <td>{CHANGES.gone}</td>
    </tr>
  );
}

function ListingHead({
  room,
  hasTypes,
}: {
  room: { unit: string; unitBytes: number; total: number; free: number; entries: number };
  hasTypes: boolean;
}) {
  return (
    <thead>
      <tr className="border-b border-line [&>th]:pb-1">
        <th>{say.assemblies.name}</th>
        <th className="pr-4 text-right">{say.assemblies.bytes}</th>
        <th className="pr-4 text-right">
          {room.unit === 'byte'
            ? say.assemblies.takes
            : `${room.unit[0]!.toUpperCase()}${room.unit.slice(1)}s`}
        </th>
        {hasTypes && <th>{say.assemblies.type}</th>}
        <th>{say.assemblies.dated}</th>
        <th>{say.assemblies.change}</th>
      </tr>
    </thead>
  );
}

interface ListingRowProps {
  file: Entry;
  chosen: string | null;
  onChoose: (path: string | null) => void;
  folder: string;
  hasTypes: boolean;
}

function ListingRow({ file, chosen, onChoose, folder, hasTypes }: ListingRowProps) {
  return (
    <tr
      data-path={file.path}
      aria-selected={file.path === chosen}
      onClick={() => onChoose(file.path)}
      className="h-8 cursor-pointer border-b border-line aria-selected:bg-oxide-wash"
    >
      <EntryName file={file} folder={folder} />
      <td className="pr-4 text-right">{file.kind === 'file' && grouped(file.bytes)}</td>
      <td className="pr-4 text-right">{file.cost !== null && grouped(file.cost)}</td>
      {hasTypes && <td className="pr-3 font-mono text-ink-2">{file.type ?? ''}</td>}
      <td className="whitespace-nowrap pr-3 text-ink-2">{file.modified?.slice(0, 10) ?? ''}</td>
      <td>
        {file.change && (
          <span className={file.change === 'new' ? 'font-[650] text-oxide' : 'text-oxide'}>
            {CHANGES[file.change]}
            {file.was && (
              <>
                {say.assemblies.was} <span className="font-mono">{file.was}</span>
              </>
            )}
          </span>
        )}
      </td>
    </tr>
  );
}

function EntryName({ file, folder }: { file: ListingRowProps['file']; folder: string }) {
  return (
    <td className="pr-3 font-mono">
      {file.kind === 'directory' ? (
        // Whole: what it lies in need not be listed itself, as a partition is not.
        <span>{file.path}/</span>
      ) : (
        <span style={{ paddingLeft: 14 * (file.path.split('/').length - 1) }}>
          {file.path.slice(parentOf(file.path) === '' ? 0 : parentOf(file.path).length + 1)}
        </span>
      )}
      {folder === file.path && (
        <b className="ml-2 font-sans text-[12px] text-oxide">{say.assemblies.filesGoHere}</b>
      )}
      {file.locked && (
        <span className="ml-2 font-sans text-[12px] text-ink-2">{say.assemblies.locked}</span>
      )}
    </td>
  );
}
