'use client';
/** The sounds of a copy, one under the other as they lie in its volumes. */
import { memo, useEffect, useRef } from 'react';
import { playersOf } from '@/core/sound/sound';
import { say } from '@/messages';
import type { Sounds } from '../data/queries';
import { lengthWords } from './length-words';
import type { ListedProgram } from './program-voices';
import type { ListedSample } from './sound-source';
import { offerFile, type WavFile } from './wav-file';

export type Item =
  | { kind: 'sample'; key: string; sample: ListedSample; playedBy: readonly string[] | null }
  | {
      kind: 'program';
      key: string;
      program: ListedProgram;
      samples: ReadonlyMap<number, ListedSample>;
    }
  | { kind: 'file'; key: string; file: number; path: string };

export interface Group {
  title: string;
  /** Partition and volume, or bank; empty of files that are sounds themselves. */
  path: readonly string[];
  /** Files of a volume's sounds and programs; none of files that are sounds themselves. */
  files: readonly number[];
  items: Item[];
}

/** The partition of a volume; null where it lies in none. */
export const partitionOf = ({ path: [partition, volume] }: Group): string | null =>
  volume === undefined ? null : partition!;

/** Groups with what is in them, in the order of the medium. */
export function groupsOf({ volumes, files }: Sounds): Group[] {
  const groups = volumes.flatMap(({ folders }, volume): Group[] =>
    folders.map(({ path, samples, programs }) => {
      const byPlace = new Map(samples.map((sample) => [sample.position, sample]));
      const key = (position: number) => `${volume}/${position}`;
      return {
        ...{ path, title: path.join(' / ') },
        files: [...programs, ...samples].flatMap(({ file }) => file ?? []),
        items: [
          ...programs.map((program): Item => ({
            kind: 'program',
            key: key(program.position),
            program,
            samples: byPlace,
          })),
          ...samples.map((sample): Item => ({
            kind: 'sample',
            key: key(sample.position),
            sample,
            playedBy: programs.length > 0 ? playersOf(programs, sample.position) : null,
          })),
        ],
      };
    }),
  );
  const own = files.map(({ id, path }): Item => ({
    kind: 'file',
    key: `file ${id}`,
    file: id,
    path,
  }));
  return [...groups, { title: say.sounds.filesOfSound, path: [], files: [], items: own }].filter(
    ({ items }) => items.length > 0,
  );
}

interface SoundListProps {
  groups: readonly Group[];
  chosen: string | null;
  choose(item: Item): void;
}

export function SoundList({ groups, chosen, choose }: SoundListProps) {
  return (
    <div
      className="max-h-[calc(100vh-230px)] overflow-y-auto border border-line bg-sheet"
      role="listbox"
      aria-label={say.sounds.sounds}
    >
      {groups.map(({ title, items }) => (
        <div key={items[0]!.key} role="group" aria-label={title}>
          <p role="presentation" className="sticky top-0 bg-sunk px-3 py-1 text-[13px] font-[650]">
            {title}
          </p>
          {items.map((item) => (
            <Row key={item.key} item={item} isChosen={item.key === chosen} choose={choose} />
          ))}
        </div>
      ))}
    </div>
  );
}

interface RowProps {
  item: Item;
  isChosen: boolean;
  choose(item: Item): void;
}

/** A medium may have thousands: only those that change are made anew. */
const Row = memo(function Row({ item, isChosen, choose }: RowProps) {
  const own = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (isChosen) own.current?.scrollIntoView({ block: 'nearest' });
  }, [isChosen]);
  return (
    <button
      ref={own}
      type="button"
      role="option"
      aria-selected={isChosen}
      onClick={() => choose(item)}
      draggable={wavOf(item) !== null}
      onDragStart={({ dataTransfer }) => {
        const wav = wavOf(item);
        if (wav) offerFile(dataTransfer, wav);
      }}
      className={
        'flex w-full items-baseline gap-2 border-l-4 border-transparent px-2 py-1 text-left ' +
        'text-[13px] aria-selected:border-oxide aria-selected:bg-oxide-wash'
      }
    >
      <span className="min-w-0 flex-1 truncate font-mono">{nameOf(item)}</span>
      <span className="shrink-0 text-[12px] text-ink-2">{aboutOf(item)}</span>
    </button>
  );
});

/** Where a sample is as a WAV; null of what is not. */
const wavOf = (item: Item): WavFile | null =>
  item.kind === 'sample' && item.sample.file !== null
    ? { file: item.sample.file, name: item.sample.name }
    : null;

const nameOf = (item: Item): string => {
  if (item.kind === 'sample') return item.sample.name;
  return item.kind === 'program' ? item.program.name : item.path;
};

function aboutOf(item: Item): string {
  if (item.kind === 'program') return say.sounds.program({ regions: item.program.regions.length });
  if (item.kind === 'file') return '';
  const { frames, rateHz, loops, problems } = item.sample;
  const about = lengthWords(frames / Math.max(1, rateHz), loops.length > 0);
  return problems.length > 0 ? `${about} · ${say.sounds.odd}` : about;
}
