'use client';
/**
 * One write-back: how far it is, what it asks, how it came out, and how the disk did in the old
 * machine.
 */
import { useMutation, UseMutationResult } from '@tanstack/react-query';
import { Dispatch, SetStateAction, useState, type FormEvent } from 'react';
import { targetName } from '@/messages/names';
import { post, troubleOf } from '../data/api';
import type { WritebackRow } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { ErrorAlert, when } from '../parts/page';
import { say } from '@/messages';
import { Trial } from './writeback-trial';

const TRACKS_ACROSS = 80;

/**
 * Tracks as they are proved: a band a head, growing with the cylinders; what failed is left open in
 * it.
 */
function ProofLine({ tracks }: { tracks: WritebackRow['tracks'] }) {
  return (
    <svg
      viewBox={`0 0 ${TRACKS_ACROSS * 4} 20`}
      preserveAspectRatio="none"
      className="my-2 h-6 w-full bg-sunk"
      role="img"
      aria-label={say.writebacks.tracksProved({
        tracks: tracks.filter(({ proved }) => proved).length,
      })}
    >
      {tracks.map(({ cylinder, head, proved }) =>
        proved ? (
          <rect
            key={cylinder * 2 + head}
            x={cylinder * 4}
            y={head * 10 + 1}
            width="4.1"
            height="8"
            fill="var(--verdigris)"
          />
        ) : (
          <rect
            key={cylinder * 2 + head}
            x={cylinder * 4 + 0.5}
            y={head * 10 + 1.5}
            width="2.5"
            height="7"
            fill="none"
            stroke="var(--grade-lost)"
          />
        ),
      )}
    </svg>
  );
}

interface BlockLineProps {
  blocks: NonNullable<WritebackRow['blocks']>;
}

/** Blocks as they are proved, with those that failed. */
function BlockLine({ blocks: { blocks, written, proved, failed } }: BlockLineProps) {
  const x = (block: number) => (1000 * block) / Math.max(1, blocks);
  return (
    <svg
      viewBox="0 0 1000 20"
      preserveAspectRatio="none"
      className="my-2 h-6 w-full bg-sunk"
      role="img"
      aria-label={say.writebacks.ofBlocksProved({
        proved: grouped(proved),
        blocks: grouped(blocks),
      })}
    >
      <rect x="0" y="2" width={x(written)} height="16" fill="var(--verdigris)" />
      {failed.map(({ from, to }) => (
        <rect
          key={from}
          x={x(from)}
          y="0"
          width={Math.max(2, x(to) - x(from))}
          height="20"
          fill="var(--sheet)"
          stroke="var(--grade-lost)"
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  );
}

/** The least margin of the tracks that were read back. */
function margin(tracks: WritebackRow['tracks']): string | null {
  const spreads = tracks.flatMap(({ spread }) => (spread ? [spread] : []));
  return spreads.length === 0
    ? null
    : say.writebacks.transitionsCameBackOf({
        reduce: ((100 * spreads.reduce((sum, spread) => sum + spread, 0)) / spreads.length).toFixed(
          1,
        ),
        max: (100 * Math.max(...spreads)).toFixed(1),
      });
}

const BEFORE = {
  blank: say.writebacks.itWasBlankBefore,
  formatted: say.writebacks.itHeldAFormat,
} as const;

function before(found: WritebackRow['found']): string {
  if (!found) return '';
  if (found.state === 'blank' || found.state === 'formatted') return BEFORE[found.state];
  return found.state === 'held'
    ? say.writebacks.itHeldWhatIs({ heldAs: found.heldAs })
    : say.writebacks.itHeldDataBefore;
}

const EDGES: Partial<Record<WritebackRow['state'], string>> = {
  proved: 'border-l-verdigris',
  asks: 'border-l-ochre',
  held: 'border-l-ochre',
  unproved: 'border-l-ink',
  failed: 'border-l-ink',
};

export function WritebackEntry({ row }: { row: WritebackRow }) {
  const [typed, setTyped] = useState('');
  const answer = useMutation({
    mutationFn: (body: object) => post(`/api/writebacks/${row.id}`, body),
  });
  const again = useMutation({
    mutationFn: () =>
      post('/api/writebacks/queue', {
        fairCopyId: row.fairCopyId,
        stationId: row.stationId,
        from: row.from,
        machine: row.machine,
      }),
  });
  const settled = row.state === 'proved';
  const running = row.state === 'waiting' || row.state === 'writing' || row.state === 'held';
  const facts = [
    say.writebacks.station({ stationId: row.stationId }),
    row.from === 'flux'
      ? say.writebacks.asFlux
      : (row.layout ?? (row.blocks ? say.writebacks.blockByBlock : '')),
    targetName(row.machine),
    say.writebacks.started({ startedAt: when(row.startedAt) }),
  ].filter(Boolean);
  const confirm = (event: FormEvent) => {
    event.preventDefault();
    answer.mutate({ typed });
  };
  return (
    <article
      data-testid={`writeback-${row.id}`}
      data-state={row.state}
      className={`border border-l-[7px] border-line bg-sheet px-4 py-3 ${EDGES[row.state] ?? 'border-l-oxide'}`}
    >
      <p className="text-[13px] text-ink-2" suppressHydrationWarning>
        {facts.join(' · ')}
      </p>
      <EntryHead row={row} />
      {row.blocks ? <BlockLine blocks={row.blocks} /> : <ProofLine tracks={row.tracks} />}
      <p className={settled ? 'font-[650] text-verdigris' : ''}>
        {row.now}
        {row.cancelled && running && say.writebacks.itEndsAtThe}
      </p>
      <p className="mt-0.5 text-[13px] text-ink-2">
        {[before(row.found), margin(row.tracks)].filter(Boolean).join(' ')}
      </p>
      {row.state === 'asks' && (
        <OverwriteForm
          confirm={confirm}
          row={row}
          typed={typed}
          setTyped={setTyped}
          answer={answer}
        />
      )}
      <EntryActions row={row} again={again} running={running} answer={answer} />
      {settled && <Trial row={row} />}
      <ErrorAlert>{troubleOf(answer.error ?? again.error)}</ErrorAlert>
    </article>
  );
}

interface OverwriteFormProps {
  confirm: (event: FormEvent) => void;
  row: WritebackRow;
  typed: string;
  setTyped: Dispatch<SetStateAction<string>>;
  answer: UseMutationResult<unknown, Error, object, unknown>;
}

function EntryHead({ row }: { row: WritebackRow }) {
  return (
    <h2>
      <span className="font-mono">{row.source}</span> {say.writebacks.to}{' '}
      <span className="font-mono">{row.target}</span>: {row.sourceTitle}
    </h2>
  );
}

function OverwriteForm({ confirm, row, typed, setTyped, answer }: OverwriteFormProps) {
  return (
    <form onSubmit={confirm} className="mt-2 flex items-end gap-2">
      <label className="text-[13px] text-ink-2">
        {say.writebacks.whatIsOnIt({ target: row.target })}

        <input
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          autoComplete="off"
          className="mt-0.5 block w-64 border border-line bg-ground px-2 py-1.5 font-mono text-[15px] text-ink"
        />
      </label>
      <button
        type="submit"
        className="min-h-9 rounded-sm border border-oxide bg-oxide px-3 font-[650] text-oxide-ink"
      >
        {say.writebacks.writeOver({ target: row.target })}
      </button>
      <button
        type="button"
        onClick={() => answer.mutate({ giveUp: true })}
        className="min-h-9 rounded-sm border border-line px-3 font-[650]"
      >
        {say.writebacks.leaveItAsIt}
      </button>
    </form>
  );
}

interface EntryActionsProps {
  row: WritebackRow;
  again: UseMutationResult<unknown, Error, void, unknown>;
  running: boolean;
  answer: UseMutationResult<unknown, Error, object, unknown>;
}

function EntryActions({ row, again, running, answer }: EntryActionsProps) {
  return (
    <p className="mt-1 flex gap-4 text-[13px]">
      {row.endedAt && <Certificates row={row} />}
      {(row.state === 'unproved' || row.state === 'failed') && (
        <button
          type="button"
          disabled={again.isPending || again.isSuccess}
          onClick={() => again.mutate()}
          className="text-oxide underline disabled:no-underline"
        >
          {again.isSuccess
            ? say.writebacks.itWaitsForThe
            : say.writebacks.onceMoreToThe({ stationId: row.stationId })}
        </button>
      )}
      {running && !row.cancelled && (
        <button
          type="button"
          onClick={() => answer.mutate({ giveUp: true })}
          className="text-oxide underline"
        >
          {say.writebacks.giveItUp}
        </button>
      )}
    </p>
  );
}

function Certificates({ row }: { row: EntryActionsProps['row'] }) {
  return (
    <>
      <a href={`/api/writebacks/${row.id}/certificate`} className="font-[650] text-oxide underline">
        {say.writebacks.certificatePdf}
      </a>
      <a href={`/api/writebacks/${row.id}/certificate?as=json`} className="text-oxide underline">
        {say.writebacks.asJson}
      </a>
      {row.outcome && (
        <a
          href={`/api/writebacks/${row.id}/certificate?edition=latest`}
          className="text-oxide underline"
        >
          {say.writebacks.withItsTrial}
        </a>
      )}
    </>
  );
}
