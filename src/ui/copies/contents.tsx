'use client';
/**
 * What is in the volumes of a fair copy: used and free space, folders and files in their own order,
 * deleted ones, problems, images inside.
 */
import { Fragment, useRef, useState, type KeyboardEvent } from 'react';
import { ownUnits } from '@/core/volume/own-units';
import { useKey } from '../parts/keys';
import { GradeSwatch, grouped } from '../parts/grade';
import { hexPlace } from '../parts/hex-rows';
import type { DocketData } from '../data/queries';
import { doubtPlaces, type ReadableFile } from './reading-column';

type Volume = DocketData['contents'][number];
type Entry = Volume['entries'][number];

const isLink = ({ link }: Entry) => link !== null;
const isFile = ({ kind }: Entry) => kind === 'file';
const share = (bytes: number, of: number) => `${(100 * bytes) / of}%`;

/**
 * Share of a volume from which a piece is set apart from its neighbours by a line; the line would
 * hide a smaller one.
 */
const SEEN_APART = 0.004;

/** Where files, deleted files and doubt lie on the volume, from its first byte to its last. */
function SpacePicture({ volume }: { volume: Volume }) {
  return (
    <svg
      className="mb-1 h-8 w-full bg-sunk"
      role="img"
      aria-label={
        volume.inside === null
          ? `${grouped(volume.totalBytes - volume.freeBytes)} of ` +
            `${grouped(volume.totalBytes)} bytes in use`
          : `where its files lie on the volume that holds ${volume.inside}`
      }
    >
      <defs>
        <pattern id="in-doubt" width="7" height="7" patternUnits="userSpaceOnUse">
          <rect width="7" height="7" fill="var(--grade-mended)" />
          <path d="M-1 1 1-1M0 7 7 0M6 8 8 6" stroke="var(--ground)" strokeWidth="1.6" />
        </pattern>
      </defs>
      {volume.entries.flatMap((entry) =>
        entry.extents
          .filter((extent) => extent.offset >= 0)
          .map(({ offset, length }) => (
            <rect
              key={`${entry.id}-${offset}`}
              x={share(offset, volume.length)}
              width={share(length, volume.length)}
              height="100%"
              fill={
                entry.deleted
                  ? 'none'
                  : entry.sectorsInDoubt > 0
                    ? 'url(#in-doubt)'
                    : 'var(--grade-mended)'
              }
              stroke={
                entry.deleted
                  ? 'var(--verdigris)'
                  : length > volume.length * SEEN_APART
                    ? 'var(--ground)'
                    : 'none'
              }
              strokeWidth={entry.deleted ? 1.5 : 0.4}
            />
          )),
      )}
    </svg>
  );
}

function Swatch({
  fill,
  stroke = 'none',
  children,
}: {
  fill: string;
  stroke?: string;
  children: string;
}) {
  return (
    <span className="flex items-center gap-1.5">
      <svg width="12" height="12" aria-hidden>
        <rect
          x="0.75"
          y="0.75"
          width="10.5"
          height="10.5"
          fill={fill}
          stroke={stroke}
          strokeWidth="1.5"
        />
      </svg>
      {children}
    </span>
  );
}

function doubtOf({ sectorsInDoubt, doubts, damaged, deleted, recoverable }: Entry) {
  if (deleted)
    return {
      whole: 'deleted; all of it is free still: very likely whole',
      partial: 'deleted; part of it holds other files',
      none: 'deleted; nothing is left',
    }[recoverable ?? 'none'];
  if (damaged) return 'chain damaged';
  return sectorsInDoubt > 0 ? (
    <span className="flex items-center gap-1.5" title={doubtPlaces(doubts) ?? undefined}>
      <GradeSwatch grade="doubtful" />
      {sectorsInDoubt} {sectorsInDoubt === 1 ? 'sector' : 'sectors'} at{' '}
      {hexPlace(doubts[0]?.offset ?? 0)}
      {sectorsInDoubt > 1 && ' …'}
    </span>
  ) : (
    '–'
  );
}

/** What a volume is, and where it is kept. */
function headOf({ filesystem, label, partition, inside, totalBytes, freeBytes, reasons }: Volume) {
  return (
    <>
      {inside !== null && (
        <b className="text-ink">
          Inside <span className="font-mono">{inside}</span>:{' '}
        </b>
      )}
      {partition !== null && `partition ${partition} · `}
      {filesystem.toUpperCase()}
      {label ? ` “${label}”` : ''} · {grouped(totalBytes)} bytes,{' '}
      {ownUnits(filesystem, freeBytes)
        ? `${ownUnits(filesystem, freeBytes)} (${grouped(freeBytes)} bytes)`
        : grouped(freeBytes)}{' '}
      free · {reasons.join(', ')}
    </>
  );
}

const VIEW_WORDS = {
  joliet: 'Joliet',
  rockridge: 'Rock Ridge',
  iso9660: 'the plain directory of ISO 9660',
} as const;
/** Entries of another directory that are shown. */
const MAX_OF_VIEW = 500;

/** How another directory of the same disc names things, and what only one of the two lists. */
function OtherView({ view, main }: { view: Volume; main: Volume | undefined }) {
  const placeOf = ({ extents, bytes }: Entry) => `${extents[0]?.offset}/${bytes}`;
  const files = view.entries.filter(isFile);
  const known = new Map(
    (main?.entries ?? []).filter(isFile).map((entry) => [placeOf(entry), entry.path]),
  );
  const own = new Set(files.map(placeOf));
  const only = files.filter((entry) => entry.bytes > 0 && !known.has(placeOf(entry))).length;
  const lacks = [...known].filter(([place]) => !place.endsWith('/0') && !own.has(place)).length;
  return (
    <details data-testid="volume-view" className="mb-4 text-[13px]">
      <summary className="cursor-pointer py-1">
        As <b>{VIEW_WORDS[view.view!]}</b> lists it{view.label && ` (“${view.label}”)`}:{' '}
        {files.length} {files.length === 1 ? 'file' : 'files'}
        {only + lacks === 0
          ? ', the same ones'
          : `; ${only} that are not above, ${lacks} of those above missing`}
      </summary>
      <table className="w-full border-collapse">
        <thead>
          <tr className="border-b border-line">
            <th>Named here</th>
            <th>Named above</th>
            <th className="text-right">Bytes</th>
          </tr>
        </thead>
        <tbody>
          {files.slice(0, MAX_OF_VIEW).map((entry) => (
            <tr key={entry.id} className="border-b border-line">
              <td className="py-1 pr-3 font-mono">{entry.path}</td>
              <td className="pr-3 font-mono text-ink-2">
                {entry.link === null
                  ? (entry.bytes > 0 && known.get(placeOf(entry))) || '–'
                  : `leads to ${entry.link}`}
              </td>
              <td className="whitespace-nowrap text-right">{grouped(entry.bytes)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {files.length > MAX_OF_VIEW && <p>The first {MAX_OF_VIEW} are shown.</p>}
    </details>
  );
}

export function Contents({
  volumes: allVolumes,
  copyId,
  chosen,
  onChoose,
  quarantined,
}: {
  quarantined: boolean;
  copyId: number;
  volumes: readonly Volume[];
  chosen: ReadableFile | null;
  onChoose: (file: ReadableFile) => void;
}) {
  const volumes = allVolumes.filter(({ view }) => view === null);
  const all = volumes.flatMap(({ entries }) => entries.filter(isFile));
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set());
  const mark = (id: number) =>
    setMarked(
      (was) => new Set(was.has(id) ? [...was].filter((each) => each !== id) : [...was, id]),
    );
  const list = useRef<HTMLDivElement>(null);
  const step = (by: number) => {
    const at = all.findIndex(({ id }) => id === chosen?.id);
    const next = all[Math.max(0, Math.min(all.length - 1, at + by))];
    if (!next) return;
    onChoose(next);
    list.current?.querySelector(`[data-file="${next.id}"]`)?.scrollIntoView({ block: 'nearest' });
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
  const acknowledgesQuarantine = quarantined ? '&knowing=1' : '';
  return (
    <div ref={list} className="min-w-0" onKeyDown={arrows}>
      {volumes.map((volume) => {
        const shown = volume.entries;
        const depth = (path: string) => path.split('/').length - 1;
        return (
          <div
            key={volume.id}
            className="mb-5"
            data-testid={volume.inside === null ? 'volume' : 'volume-inside'}
          >
            <p className="mb-2 text-[13px] text-ink-2">
              {headOf(volume)}
              {volume === volumes[0] &&
                ' · J and K, or the arrow keys, go through the files; M marks one'}
            </p>
            {volume === volumes[0] && marked.size > 0 && (
              <p className="mb-2 flex gap-4 text-[13px]" data-testid="marked">
                <a
                  href={`/api/copies/${copyId}/zip?files=${[...marked].join(',')}${acknowledgesQuarantine}`}
                  className="font-[650] text-oxide underline"
                >
                  Extract the {marked.size} marked
                </a>
                <button
                  type="button"
                  onClick={() => setMarked(new Set())}
                  className="text-oxide underline"
                >
                  Unmark them
                </button>
              </p>
            )}
            <SpacePicture volume={volume} />
            {volume === volumes[0] && (
              <p className="mb-2 flex gap-4 text-[12px] text-ink-2">
                <Swatch fill="var(--grade-mended)">files</Swatch>
                <Swatch fill="url(#in-doubt)">files touched by sectors in doubt</Swatch>
                <Swatch fill="var(--sunk)">free</Swatch>
                <Swatch fill="none" stroke="var(--verdigris)">
                  deleted, still there
                </Swatch>
              </p>
            )}
            {volume.problems.length > 0 && (
              <ul className="mb-3 space-y-1 text-[13px]">
                {volume.problems.map(({ kind, message, offset }, i) => (
                  <li
                    key={i}
                    className="border-l-4 border-[var(--grade-doubtful)] bg-sheet px-3 py-1"
                  >
                    <b>{kind.replaceAll('-', ' ')}</b>
                    {offset !== null && (
                      <span className="font-mono text-[12px]"> at {hexPlace(offset)}</span>
                    )}
                    : {message}
                  </li>
                ))}
              </ul>
            )}
            <table className="w-full border-collapse text-[13px]">
              <thead>
                <tr className="border-b border-line">
                  <th>Name</th>
                  <th>Type</th>
                  <th className="pr-4 text-right">Bytes</th>
                  <th>Changed</th>
                  <th>In doubt</th>
                  <th />
                </tr>
              </thead>
              <tbody>
                {shown.map((entry) => (
                  <Fragment key={entry.id}>
                    {isFile(entry) ? (
                      <tr
                        data-file={entry.id}
                        onClick={() => onChoose(entry)}
                        aria-selected={entry.id === chosen?.id}
                        className={`h-8 cursor-pointer border-b border-line aria-selected:bg-oxide-wash ${entry.deleted ? 'text-ink-2' : ''}`}
                      >
                        <td
                          className="max-w-0 truncate pr-3 font-mono"
                          style={{ width: '32%', paddingLeft: depth(entry.path) * 14 }}
                        >
                          <button
                            type="button"
                            onClick={() => onChoose(entry)}
                            className="max-w-full truncate text-left hover:underline"
                            title={entry.path}
                          >
                            {marked.has(entry.id) && (
                              <span aria-label="marked" className="mr-1 font-sans text-oxide">
                                ●
                              </span>
                            )}
                            {entry.path.split('/').pop()}
                          </button>
                        </td>
                        <td className="whitespace-nowrap pr-3 font-mono text-[12px]">
                          {entry.type ?? ''}
                          {entry.locked && <span className="font-sans text-ink-2"> locked</span>}
                        </td>
                        <td className="whitespace-nowrap pr-4 text-right">
                          {entry.ownSize && (
                            <span className="mr-2 text-ink-2">{entry.ownSize}</span>
                          )}
                          {grouped(entry.bytes)}
                        </td>
                        <td className="whitespace-nowrap pr-3 text-ink-2">
                          {entry.modified?.slice(0, 16).replace('T', ' ') ?? 'no date'}
                        </td>
                        <td className="pr-3">{doubtOf(entry)}</td>
                        <td className="text-right">
                          {isLink(entry) ? (
                            <span className="text-ink-2" title={entry.link!}>
                              link
                            </span>
                          ) : (
                            entry.recoverable !== 'none' && (
                              <a
                                href={`/api/files/${entry.id}${quarantined ? '?knowing=1' : ''}`}
                                onClick={(event) => event.stopPropagation()}
                                className="font-[650] text-oxide hover:underline"
                              >
                                Extract
                              </a>
                            )
                          )}
                        </td>
                      </tr>
                    ) : (
                      <tr
                        className={`h-8 border-b border-line ${entry.deleted ? 'text-ink-2' : ''}`}
                      >
                        <td
                          colSpan={3}
                          className="pr-3 font-mono font-[650]"
                          style={{ paddingLeft: depth(entry.path) * 14 }}
                        >
                          {entry.path.split('/').pop()}/
                          {entry.deleted && <span className="font-sans font-normal"> deleted</span>}
                        </td>
                        <td className="whitespace-nowrap pr-3 text-ink-2">
                          {entry.modified?.slice(0, 16).replace('T', ' ') ?? ''}
                        </td>
                        <td />
                        <td className="whitespace-nowrap text-right">
                          {volume.entries.some(
                            ({ kind, path, recoverable }) =>
                              kind === 'file' &&
                              recoverable !== 'none' &&
                              path.startsWith(`${entry.path}/`),
                          ) && (
                            <a
                              href={`/api/copies/${copyId}/zip?volume=${volume.id}&folder=${encodeURIComponent(entry.path)}${acknowledgesQuarantine}`}
                              className="font-[650] text-oxide hover:underline"
                            >
                              Extract folder
                            </a>
                          )}
                        </td>
                      </tr>
                    )}
                  </Fragment>
                ))}
              </tbody>
            </table>
            {!shown.some(isFile) && <p className="py-2 text-ink-2">The volume holds no files.</p>}
            {volume.inside === null &&
              allVolumes
                .filter(({ view, offset }) => view !== null && offset === volume.offset)
                .map((view) => <OtherView key={view.id} view={view} main={volume} />)}
          </div>
        );
      })}
    </div>
  );
}
