'use client';
/** Files and folders of a volume, a row each, in their own order. */
import type { ReactNode } from 'react';
import type { DocketData } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { GradeSwatch } from '../parts/grade';
import { hexPlace } from '../parts/hex-rows';
import { doubtPlaces } from './doubt-places';
import { say } from '@/messages';

export type Entry = DocketData['contents'][number]['entries'][number];

const DELETED_WORDS = {
  whole: say.copies.deletedAllOfIt,
  partial: say.copies.deletedPartOfIt,
  none: say.copies.deletedNothingIsLeft,
} as const;

function doubtOf({ sectorsInDoubt, doubts, damaged, deleted, recoverable }: Entry): ReactNode {
  if (deleted) return DELETED_WORDS[recoverable ?? 'none'];
  if (damaged) return say.copies.chainDamaged;
  if (sectorsInDoubt === 0) return '–';
  return (
    <span className="flex items-center gap-1.5" title={doubtPlaces(doubts) ?? undefined}>
      <GradeSwatch grade="doubtful" />

      {say.copies.sectorsAt({ sectorsInDoubt, offset: hexPlace(doubts[0]?.offset ?? 0) })}

      {sectorsInDoubt > 1 && ' …'}
    </span>
  );
}

const nameOf = (path: string) => path.split('/').pop();
const indentOf = (path: string) => (path.split('/').length - 1) * 14;
const dateOf = (modified: string | null, none: string) =>
  modified?.slice(0, 16).replace('T', ' ') ?? none;

interface FileRowProps {
  entry: Entry;
  isChosen: boolean;
  isMarked: boolean;
  quarantined: boolean;
  onChoose: () => void;
}

function Extract({ entry, quarantined }: Pick<FileRowProps, 'entry' | 'quarantined'>) {
  if (entry.link !== null)
    return (
      <span className="text-ink-2" title={entry.link}>
        {say.copies.link}
      </span>
    );
  if (entry.recoverable === 'none') return null;
  return (
    <a
      href={`/api/files/${entry.id}${quarantined ? '?knowing=1' : ''}`}
      onClick={(event) => event.stopPropagation()}
      className="font-[650] text-oxide hover:underline"
    >
      {say.copies.extract}
    </a>
  );
}

export function FileRow({ entry, isChosen, isMarked, quarantined, onChoose }: FileRowProps) {
  const shade = entry.deleted ? 'text-ink-2' : '';
  return (
    <tr
      data-file={entry.id}
      onClick={onChoose}
      aria-selected={isChosen}
      className={`h-8 cursor-pointer border-b border-line aria-selected:bg-oxide-wash ${shade}`}
    >
      <NameCell entry={entry} onChoose={onChoose} isMarked={isMarked} />
      <td className="whitespace-nowrap pr-3 font-mono text-[12px]">
        {entry.type ?? ''}
        {entry.locked && <span className="font-sans text-ink-2"> {say.copies.locked}</span>}
      </td>
      <td className="whitespace-nowrap pr-4 text-right">
        {entry.ownSize && <span className="mr-2 text-ink-2">{entry.ownSize}</span>}
        {grouped(entry.bytes)}
      </td>
      <td className="whitespace-nowrap pr-3 text-ink-2">
        {dateOf(entry.modified, say.copies.noDate)}
      </td>
      <td className="pr-3">{doubtOf(entry)}</td>
      <td className="text-right">
        <Extract entry={entry} quarantined={quarantined} />
      </td>
    </tr>
  );
}

interface NameCellProps {
  entry: FileRowProps['entry'];
  onChoose: () => void;
  isMarked: boolean;
}

function NameCell({ entry, onChoose, isMarked }: NameCellProps) {
  return (
    <td
      className="max-w-0 truncate pr-3 font-mono"
      style={{ width: '32%', paddingLeft: indentOf(entry.path) }}
    >
      <button
        type="button"
        onClick={onChoose}
        className="max-w-full truncate text-left hover:underline"
        title={entry.path}
      >
        {isMarked && (
          <span aria-label={say.copies.marked} className="mr-1 font-sans text-oxide">
            ●
          </span>
        )}
        {nameOf(entry.path)}
      </button>
    </td>
  );
}

/**
 * `href` takes everything in it out. Its path is whole: what it lies in need not be listed itself, as
 * a partition is not.
 */
export function FolderRow({ entry, href }: { entry: Entry; href: string }) {
  return (
    <tr className={`h-8 border-b border-line ${entry.deleted ? 'text-ink-2' : ''}`}>
      <td colSpan={3} className="max-w-0 truncate pr-3 font-mono font-[650]" title={entry.path}>
        {entry.path}/
        {entry.deleted && <span className="font-sans font-normal"> {say.copies.deleted}</span>}
      </td>
      <td className="whitespace-nowrap pr-3 text-ink-2">{dateOf(entry.modified, '')}</td>
      <td />
      <td className="whitespace-nowrap text-right">
        {entry.extractable && (
          <a href={href} className="font-[650] text-oxide hover:underline">
            {say.copies.extractFolder}
          </a>
        )}
      </td>
    </tr>
  );
}
