'use client';
/** Sounds of many media, a row each. */
import { memo, useEffect, useRef } from 'react';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import type { HeldSounds } from '../../data/queries';
import { lengthWords } from '../length-words';

export type HeldSound = HeldSounds['rows'][number];

interface HeldSoundsTableProps {
  rows: readonly HeldSound[];
  chosen: number;
  choose: (sound: HeldSound) => void;
  onSame: (pcm: string) => void;
  onMore: (() => void) | null;
}

export function HeldSoundsTable({ rows, chosen, choose, onSame, onMore }: HeldSoundsTableProps) {
  const heads = [
    [say.sounds.medium, 'pl-3'],
    [say.sounds.volume, ''],
    [say.sounds.name, ''],
    [say.sounds.length, 'text-right'],
    [say.sounds.rate, 'text-right'],
    [say.sounds.root, 'text-right'],
    [say.sounds.held, 'text-right'],
  ] as const;
  return (
    <div className="max-h-[calc(100vh-210px)] overflow-auto border border-line bg-sheet">
      <table className="w-full text-[13px]">
        <thead className="sticky top-0 bg-sunk text-left">
          <tr>
            {heads.map(([head, side]) => (
              <th key={head} className={`whitespace-nowrap px-2 py-1.5 font-[650] ${side}`}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <Row
              key={row.id}
              row={row}
              isChosen={row.id === chosen}
              choose={choose}
              onSame={onSame}
            />
          ))}
        </tbody>
      </table>
      {onMore && (
        <button type="button" onClick={onMore} className="m-2 text-oxide underline">
          {say.sounds.moreSounds}
        </button>
      )}
    </div>
  );
}

interface RowProps extends Pick<HeldSoundsTableProps, 'choose' | 'onSame'> {
  row: HeldSound;
  isChosen: boolean;
}

/** A list may have thousands: only those that change are made anew. */
const Row = memo(function Row({ row, isChosen, choose, onSame }: RowProps) {
  const own = useRef<HTMLTableRowElement>(null);
  useEffect(() => {
    if (isChosen) own.current?.scrollIntoView({ block: 'nearest' });
  }, [isChosen]);
  const { code, folder, name, sample, held, pcmSha256 } = row;
  return (
    <tr
      ref={own}
      data-sound={row.id}
      aria-selected={isChosen}
      onClick={() => choose(row)}
      className={
        'h-8 cursor-pointer border-b border-line ' +
        (isChosen ? 'bg-oxide-wash shadow-[inset_4px_0_0_var(--color-oxide)]' : '')
      }
    >
      <td className="whitespace-nowrap pl-3 pr-2 font-mono font-[650]">{code}</td>
      <td className="max-w-[150px] truncate px-2 text-ink-2" title={folder}>
        {folder}
      </td>
      <td className="max-w-[170px] truncate px-2 font-mono" title={name}>
        {name}
      </td>
      <td className="whitespace-nowrap px-2 text-right">
        {lengthWords(row.seconds, row.isLooped)}
      </td>
      <td className="whitespace-nowrap px-2 text-right">
        {say.sounds.hertz({ rate: grouped(row.rateHz) })}
        {sample?.rateAssumed && <span className="text-ink-2"> {say.sounds.assumed}</span>}
      </td>
      <td className="px-2 text-right">{row.rootNote ?? '–'}</td>
      <td className="whitespace-nowrap px-2 text-right">
        {held > 1 && pcmSha256 ? (
          <button
            type="button"
            className="text-oxide underline"
            onClick={(event) => {
              event.stopPropagation();
              onSame(pcmSha256);
            }}
          >
            {say.sounds.heldTimes({ held })}
          </button>
        ) : (
          say.sounds.heldOnce
        )}
      </td>
    </tr>
  );
});
