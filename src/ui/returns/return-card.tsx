'use client';
/** One return: how far it is, what it asks, how it came out. */
import { useMutation } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { ApiError, post } from '../data/api';
import type { ReturnRow } from '../data/queries';
import { Trouble, when } from '../parts/page';

const TRACKS_ACROSS = 80;

/** Tracks as they are proved, one stroke a cylinder and row a head. */
function ProofLine({ tracks }: { tracks: ReturnRow['tracks'] }) {
  return (
    <svg viewBox={`0 0 ${TRACKS_ACROSS * 4} 20`} preserveAspectRatio="none" className="my-2 h-6 w-full bg-sunk" role="img" aria-label={`${tracks.filter(({ proved }) => proved).length} tracks proved`}>
      {tracks.map(({ cylinder, head, proved }) => proved
        ? <rect key={cylinder * 2 + head} x={cylinder * 4} y={head * 10 + 1} width="3" height="8" fill="var(--verdigris)" />
        : <rect key={cylinder * 2 + head} x={cylinder * 4 + 0.5} y={head * 10 + 1.5} width="2.5" height="7" fill="none" stroke="var(--grade-lost)" />)}
    </svg>
  );
}

export function ReturnCard({ row }: { row: ReturnRow }) {
  const [typed, setTyped] = useState('');
  const answer = useMutation({ mutationFn: (body: object) => post(`/api/returns/${row.id}`, body) });
  const settled = row.state === 'proved';
  const confirm = (event: FormEvent) => {
    event.preventDefault();
    answer.mutate({ typed });
  };
  return (
    <article data-testid={`return-${row.id}`} data-state={row.state} className={`border border-l-[7px] border-line bg-sheet px-4 py-3 ${settled ? 'border-l-verdigris' : row.state === 'asks' || row.state === 'held' ? 'border-l-ochre' : row.state === 'unproved' || row.state === 'failed' ? 'border-l-ink' : 'border-l-oxide'}`}>
      <p className="text-[13px] text-ink-2">Station {row.stationId} · {row.from === 'flux' ? 'as flux' : row.layout} · started {when(row.startedAt)}</p>
      <h2><span className="font-mono">{row.source}</span> to <span className="font-mono">{row.target}</span>: {row.sourceTitle}</h2>
      <ProofLine tracks={row.tracks} />
      <p className={settled ? 'font-[650] text-verdigris' : ''}>{row.now}</p>
      {row.state === 'asks' && (
        <form onSubmit={confirm} className="mt-2 flex items-end gap-2">
          <label className="text-[13px] text-ink-2">What is on it will be gone. To write over it, type {row.target}
            <input value={typed} onChange={(event) => setTyped(event.target.value)} autoComplete="off" className="mt-0.5 block w-64 border border-line bg-ground px-2 py-1.5 font-mono text-[15px] text-ink" />
          </label>
          <button type="submit" className="min-h-9 rounded-sm border border-oxide bg-oxide px-3 font-[650] text-oxide-ink">Write over {row.target}</button>
          <button type="button" onClick={() => answer.mutate({ giveUp: true })} className="min-h-9 rounded-sm border border-line px-3 font-[650]">Leave it as it is</button>
        </form>
      )}
      <Trouble>{answer.error instanceof ApiError ? answer.error.message : null}</Trouble>
    </article>
  );
}
