'use client';
/** One transfer: how far it is, and its sheet for the person at the other machine. */
import { useMutation, UseMutationResult } from '@tanstack/react-query';
import { remove } from '../data/api';
import { type TransferRow } from '../data/queries';
import { Gauge } from '../parts/gauge';
import { grouped } from '@/core/text/grouped';
import { ErrorAlert, when } from '../parts/page';
import { lasting } from './lasting';
import { say } from '@/messages';

/** What a person does at the other end, to be printed and taken there. */
function Sheet({ row }: { row: TransferRow }) {
  return (
    <details className="mt-1" data-testid={`sheet-${row.id}`}>
      <summary className="cursor-pointer">{say.transfers.whatToDoAt}</summary>
      <ol className="mt-1 list-decimal space-y-0.5 pl-6">
        <li>{say.transfers.setTheLineThere({ rate: row.rate })}</li>
        {row.loaderLines > 0 ? (
          <li>
            {say.transfers.leaveTheMachineAt({
              loaderLines: row.loaderLines,
              typingRate: row.typingRate,
            })}
          </li>
        ) : (
          <StartReceiving row={row} />
        )}
        <li>
          {say.transfers.waitUntilItSays({
            bytes: grouped(row.bytes),
            bytes2: lasting(row.bytes, row.rate),
          })}
        </li>
        <li>{say.transfers.ifItStopsStart}</li>
      </ol>
      <button type="button" onClick={() => window.print()} className="mt-1 text-oxide underline">
        {say.transfers.printIt}
      </button>
    </details>
  );
}

function StartReceiving({ row }: { row: TransferRow }) {
  return (
    <li>
      {say.transfers.startItsReceivingProgram}
      {row.large ? say.transfers.withCrcAndBlocks : say.transfers.withCrc}
      {row.nameThere && (
        <>
          {say.transfers.andGive} <b className="font-mono">{row.nameThere}</b>{' '}
          {say.transfers.asTheName}
        </>
      )}
      .
    </li>
  );
}

export function TransferPanel({ row }: { row: TransferRow }) {
  const giveUp = useMutation({ mutationFn: () => remove(`/api/transfers/${row.id}`) });
  const running = row.endedAt === null;
  const done = row.state === 'done' ? row.bytes : (row.progress?.acknowledged ?? 0);
  return (
    <article
      data-testid={`transfer-${row.id}`}
      data-state={row.state}
      className={
        'mb-3 border border-l-[7px] border-line bg-sheet px-4 py-3 text-[13px] ' +
        (row.state === 'done'
          ? 'border-l-verdigris'
          : row.state === 'held'
            ? 'border-l-ochre'
            : row.state === 'failed'
              ? 'border-l-ink'
              : 'border-l-oxide')
      }
    >
      <p className="text-ink-2" suppressHydrationWarning>
        {say.transfers.lineBitsASecond({
          line: row.line,
          rate: row.rate,
          who: row.who,
          startedAt: when(row.startedAt),
        })}
      </p>
      <h2>
        <span className="font-mono">{row.code}</span>: {row.title}
      </h2>
      <Gauge
        done={done}
        of={row.bytes}
        label={say.transfers.bytesAcknowledged}
        className="my-1 w-full"
      />
      <TransferState row={row} running={running} giveUp={giveUp} />
      <Sheet row={row} />
      <ErrorAlert>{giveUp.error?.message}</ErrorAlert>
    </article>
  );
}

function TransferState({
  row,
  running,
  giveUp,
}: {
  row: TransferRow;
  running: boolean;
  giveUp: UseMutationResult<unknown, Error, void, unknown>;
}) {
  return (
    <p className={row.state === 'done' ? 'font-[650] text-verdigris' : ''}>
      {row.now}
      {row.repeated > 0 && say.transfers.blocksWentMoreThan({ repeated: row.repeated })}{' '}
      {running && !row.cancelled && (
        <button type="button" onClick={() => giveUp.mutate()} className="ml-2 text-oxide underline">
          {say.transfers.giveItUp}
        </button>
      )}
    </p>
  );
}
