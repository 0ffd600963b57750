'use client';
/** Write-backs: images written to blanks, their proofs, and how they did in the old machine. */
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { post } from '../data/api';
import { queueQuery, writebacksQuery } from '../data/queries';
import { EmptyState, PageHead, ErrorAlert } from '../parts/page';
import { ImageChoice } from './image-choice';
import { WritebackEntry } from './writeback-entry';

/** What waits for the next blank, by station; and how many blanks are left. */
function Waiting() {
  const { data } = useQuery(queueQuery);
  const empty = useMutation({
    mutationFn: (station: number) => post('/api/writebacks/queue', { empty: station }),
  });
  if (!data) return null;
  const stations = [...new Set(data.waiting.map(({ stationId }) => stationId))];
  return (
    <div className="mb-5 text-[13px]" data-testid="queue">
      {stations.map((station) => {
        const own = data.waiting.filter(({ stationId }) => stationId === station);
        return (
          <p key={station} className="mb-1 border-l-4 border-ochre bg-ochre-wash px-3 py-2">
            <b>
              {own.length} {own.length === 1 ? 'write-back waits' : 'write-backs wait'} for blanks
              at station {station}
            </b>
            , next {own[0]!.source}: take out what is in it and put the next blank in.{' '}
            {own[0]!.trouble && <span className="font-[650]">{own[0]!.trouble} </span>}
            <button
              type="button"
              onClick={() => empty.mutate(station)}
              className="ml-2 text-oxide underline"
            >
              Take {own.length === 1 ? 'it' : 'them'} back
            </button>
          </p>
        );
      })}
      <p className="text-ink-2">
        {data.stock.length === 0
          ? 'No unused blanks are registered.'
          : `Unused blanks: ${data.stock
              .map(
                ({ words, left, inStation }) =>
                  `${left} × ` +
                  `${words}${inStation.length > 0 ? ` (station ${inStation.join(', ')})` : ''}`,
              )
              .join('; ')}.`}
      </p>
      <ErrorAlert>{empty.error?.message}</ErrorAlert>
    </div>
  );
}

function title(
  rows: readonly { endedAt: string | null; state: string; outcome: string | null }[],
): string {
  if (rows.length === 0) return 'No image has been returned to a disk yet';
  const open = rows.filter(({ endedAt }) => !endedAt).length;
  const proved = rows.filter(({ state }) => state === 'proved');
  const untold = proved.filter(({ outcome }) => outcome === null).length;
  return (
    `${open > 0 ? `${open} under way, ` : ''}${proved.length} of ${rows.length} ` +
    `write-backs proved${untold > 0 ? `, ${untold} not tried yet` : ''}`
  );
}

export function WritebacksView() {
  const { data: rows = [] } = useQuery(writebacksQuery);
  return (
    <>
      <PageHead over="An original is never a target" title={title(rows)}>
        <Link
          href="/write-back/memory-cards"
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          Cards for stand-in drives
        </Link>
        <Link
          href="/write-back/lines"
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          By serial line
        </Link>
      </PageHead>
      <ImageChoice />
      <Waiting />
      {rows.length === 0 ? (
        <EmptyState>
          Put a blank in a station and look above for what is to go on it. What is on the blank is
          looked at first; every track is read back and compared.
        </EmptyState>
      ) : (
        <div className="space-y-3 pb-4">
          {rows.map((row) => (
            <WritebackEntry key={row.id} row={row} />
          ))}
        </div>
      )}
    </>
  );
}
