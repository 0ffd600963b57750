'use client';
/**
 * What is in the volumes of a fair copy: used and free space, folders and files in their own order,
 * deleted ones, problems, images inside.
 */
import { tell } from '@/messages/tell';
import { useRef, useState, type KeyboardEvent } from 'react';
import { ownUnits } from '@/core/volume/own-units';
import type { DocketData } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { hexPlace } from '../parts/hex-rows';
import { useKey } from '../parts/keys';
import { FileRow, FolderRow, type Entry } from './entry-rows';
import { OtherView } from './other-view';
import type { ReadableFile } from './reading-column';
import { SpaceKey, SpacePicture } from './space-picture';
import { useEntries } from './use-entries';
import { say } from '@/messages';

type Volume = DocketData['contents'][number];

const isFile = ({ kind }: Entry) => kind === 'file';

/** What a volume is, and where it is kept. */
function VolumeHead({ volume }: { volume: Volume }) {
  const { filesystem, label, partition, inside, totalBytes, freeBytes, reasons } = volume;
  const inUnits = ownUnits(filesystem, freeBytes);
  return (
    <>
      {inside !== null && (
        <b className="text-ink">
          {say.copies.inside} <span className="font-mono">{inside}</span>:{' '}
        </b>
      )}
      {partition !== null && say.copies.partition({ partition })}
      {filesystem.toUpperCase()}
      {label ? ` “${label}”` : ''} {say.copies.bytes({ totalBytes: grouped(totalBytes) })}{' '}
      {inUnits ? say.copies.bytes2({ inUnits, freeBytes: grouped(freeBytes) }) : grouped(freeBytes)}{' '}
      {say.copies.free({ reasons: reasons.map(tell).join(', ') })}
    </>
  );
}

function Problems({ problems }: Pick<Volume, 'problems'>) {
  return (
    <ul className="mb-3 space-y-1 text-[13px]">
      {problems.map(({ kind, said, offset }, i) => (
        <li key={i} className="border-l-4 border-[var(--grade-doubtful)] bg-sheet px-3 py-1">
          <b>{kind.replaceAll('-', ' ')}</b>
          {offset !== null && (
            <span className="font-mono text-[12px]">
              {' '}
              {say.copies.at({ offset: hexPlace(offset) })}
            </span>
          )}
          : {tell(said)}
        </li>
      ))}
    </ul>
  );
}

interface MarkedProps {
  marked: ReadonlySet<number>;
  href: string;
  onUnmark: () => void;
}

function Marked({ marked, href, onUnmark }: MarkedProps) {
  return (
    <p className="mb-2 flex gap-4 text-[13px]" data-testid="marked">
      <a href={href} className="font-[650] text-oxide underline">
        {say.copies.extractTheMarked({ marked: marked.size })}
      </a>
      <button type="button" onClick={onUnmark} className="text-oxide underline">
        {say.copies.unmarkThem}
      </button>
    </p>
  );
}

interface ListingProps {
  copyId: number;
  volume: Volume;
  entries: readonly Entry[];
  chosenId: number | undefined;
  marked: ReadonlySet<number>;
  quarantined: boolean;
  onChoose: (entry: Entry) => void;
}

function Listing(props: ListingProps) {
  const { copyId, volume, entries, chosenId, marked, quarantined, onChoose } = props;
  const knowing = quarantined ? '&knowing=1' : '';
  return (
    <>
      <table className="w-full border-collapse text-[13px]">
        <ListingHead />
        <tbody>
          {entries.map((entry) =>
            isFile(entry) ? (
              <FileRow
                key={entry.id}
                entry={entry}
                isChosen={entry.id === chosenId}
                isMarked={marked.has(entry.id)}
                quarantined={quarantined}
                onChoose={() => onChoose(entry)}
              />
            ) : (
              <FolderRow
                key={entry.id}
                entry={entry}
                href={
                  `/api/copies/${copyId}/zip?volume=${volume.id}` +
                  `&folder=${encodeURIComponent(entry.path)}${knowing}`
                }
              />
            ),
          )}
        </tbody>
      </table>
      {!entries.some(isFile) && <p className="py-2 text-ink-2">{say.copies.theVolumeHoldsNo}</p>}
    </>
  );
}

interface MoreEntriesProps {
  shown: number;
  of: number;
  isAsking: boolean;
  onAsk: () => void;
}

function ListingHead() {
  return (
    <thead>
      <tr className="border-b border-line">
        <th>{say.copies.name}</th>
        <th>{say.copies.type}</th>
        <th className="pr-4 text-right">{say.copies.bytes3}</th>
        <th>{say.copies.changed}</th>
        <th>{say.copies.inDoubt}</th>
        <th />
      </tr>
    </thead>
  );
}

function MoreEntries({ shown, of, isAsking, onAsk }: MoreEntriesProps) {
  return (
    <p className="py-2 text-[13px] text-ink-2" data-testid="more-entries">
      {say.copies.ofAreListed({ shown: grouped(shown), of: grouped(of) })}{' '}
      <button
        type="button"
        disabled={isAsking}
        onClick={onAsk}
        className="text-oxide underline disabled:no-underline"
      >
        {isAsking ? say.copies.asking : say.copies.listMore}
      </button>
    </p>
  );
}

interface ContentsProps {
  quarantined: boolean;
  copyId: number;
  volumes: readonly Volume[];
  chosen: ReadableFile | null;
  onChoose: (file: ReadableFile, volume: Volume) => void;
}

/** The files of all volumes in one row: which is marked, and the next one by key. */
function useFiles(
  volumes: readonly Volume[],
  entriesOf: (volume: Volume) => readonly Entry[],
  { chosen, onChoose }: ContentsProps,
) {
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set());
  const list = useRef<HTMLDivElement>(null);
  const all = volumes.flatMap((volume) =>
    entriesOf(volume)
      .filter(isFile)
      .map((entry) => ({ entry, volume })),
  );
  const mark = (id: number) =>
    setMarked((was) => {
      const marks = new Set(was);
      if (!marks.delete(id)) marks.add(id);
      return marks;
    });
  const step = (by: number) => {
    const at = all.findIndex(({ entry }) => entry.id === chosen?.id);
    const next = all[Math.max(0, Math.min(all.length - 1, at + by))];
    if (!next) return;
    onChoose(next.entry, next.volume);
    list.current
      ?.querySelector(`[data-file="${next.entry.id}"]`)
      ?.scrollIntoView({ block: 'nearest' });
  };
  useKey('j', () => step(1));
  useKey('k', () => step(-1));
  useKey('m', chosen && chosen.recoverable !== 'none' ? () => mark(chosen.id) : undefined);
  const arrows = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
    step(by);
  };
  return { marked, setMarked, list, arrows };
}

export function Contents(props: ContentsProps) {
  const { volumes: allVolumes, copyId, chosen, onChoose, quarantined } = props;
  const volumes = allVolumes.filter(({ view }) => view === null);
  const { entriesOf, hasMore, isAsking, more } = useEntries(copyId);
  const { marked, setMarked, list, arrows } = useFiles(volumes, entriesOf, props);
  const knowing = quarantined ? '&knowing=1' : '';
  return (
    <div ref={list} className="min-w-0" onKeyDown={arrows}>
      {volumes.map((volume, i) => (
        <div
          key={volume.id}
          className="mb-5"
          data-testid={volume.inside === null ? 'volume' : 'volume-inside'}
        >
          <p className="mb-2 text-[13px] text-ink-2">
            <VolumeHead volume={volume} />
            {i === 0 && say.copies.jAndKOr}
          </p>
          {i === 0 && marked.size > 0 && (
            <Marked
              marked={marked}
              href={`/api/copies/${copyId}/zip?files=${[...marked].join(',')}${knowing}`}
              onUnmark={() => setMarked(new Set())}
            />
          )}
          <SpacePicture volume={volume} />
          {i === 0 && <SpaceKey />}
          {volume.problems.length > 0 && <Problems problems={volume.problems} />}
          <Listing
            copyId={copyId}
            volume={volume}
            entries={entriesOf(volume)}
            chosenId={chosen?.id}
            marked={marked}
            quarantined={quarantined}
            onChoose={(entry) => onChoose(entry, volume)}
          />
          {hasMore(volume) && (
            <MoreEntries
              shown={entriesOf(volume).length}
              of={volume.entryCount}
              isAsking={isAsking(volume)}
              onAsk={() => void more(volume)}
            />
          )}
          {volume.inside === null &&
            allVolumes
              .filter(({ view, offset }) => view !== null && offset === volume.offset)
              .map((view) => <OtherView key={view.id} view={view} />)}
        </div>
      ))}
    </div>
  );
}
