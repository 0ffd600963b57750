'use client';
/** Write-backs: images written to blanks, their proofs, and how they did in the old machine. */
import { useMutation, UseMutationResult, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { post } from '../data/api';
import { queueQuery, writebacksQuery } from '../data/queries';
import { EmptyState, PageHead, ErrorAlert } from '../parts/page';
import { ImageChoice } from './image-choice';
import { WritebackEntry } from './writeback-entry';
import { say } from '@/messages';

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
        return <WaitingAt key={station} own={own} station={station} empty={empty} />;
      })}
      <p className="text-ink-2">
        {data.stock.length === 0
          ? say.writebacks.noUnusedBlanksAre
          : say.writebacks.unusedBlanks({
              stock: data.stock
                .map(
                  ({ words, left, inStation }) =>
                    `${left} × ` +
                    `${words}${inStation.length > 0 ? ` (station ${inStation.join(', ')})` : ''}`,
                )
                .join('; '),
            })}
      </p>
      <ErrorAlert>{empty.error?.message}</ErrorAlert>
    </div>
  );
}

function WaitingAt({
  own,
  station,
  empty,
}: {
  own: { trouble: string | null; id: number; stationId: number; source: string; title: string }[];
  station: number;
  empty: UseMutationResult<unknown, Error, number, unknown>;
}) {
  return (
    <p className="mb-1 border-l-4 border-ochre bg-ochre-wash px-3 py-2">
      <b>{say.writebacks.writeBacksWaitFor({ own: own.length, station })}</b>
      {say.writebacks.nextTakeOutWhat({ source: own[0]!.source })}{' '}
      {own[0]!.trouble && <span className="font-[650]">{own[0]!.trouble} </span>}
      <button
        type="button"
        onClick={() => empty.mutate(station)}
        className="ml-2 text-oxide underline"
      >
        {say.writebacks.takeThemBack({ own: own.length })}
      </button>
    </p>
  );
}

function title(
  rows: readonly { endedAt: string | null; state: string; outcome: string | null }[],
): string {
  if (rows.length === 0) return say.writebacks.noImageHasBeen;
  const open = rows.filter(({ endedAt }) => !endedAt).length;
  const proved = rows.filter(({ state }) => state === 'proved');
  const untold = proved.filter(({ outcome }) => outcome === null).length;
  return say.writebacks.ofWriteBacksProved({
    open,
    proved: proved.length,
    rows: rows.length,
    untold,
  });
}

function OtherWay({ href, children }: { href: string; children: string }) {
  return (
    <Link href={href} className="self-center text-[13px] font-[650] text-oxide underline">
      {children}
    </Link>
  );
}

export function WritebacksView() {
  const { data: rows = [] } = useQuery(writebacksQuery);
  return (
    <>
      <PageHead over={say.writebacks.anOriginalIsNever} title={title(rows)}>
        <OtherWay href="/write-back/memory-cards">{say.writebacks.cardsForStandIn}</OtherWay>
        <OtherWay href="/write-back/lines">{say.writebacks.bySerialLine}</OtherWay>
      </PageHead>
      <ImageChoice />
      <Waiting />
      {rows.length === 0 ? (
        <EmptyState>{say.writebacks.putABlankIn}</EmptyState>
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
