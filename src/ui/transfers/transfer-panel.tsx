'use client';
/** One transfer: how far it is, and its sheet for the person at the other machine. */
import { useMutation } from '@tanstack/react-query';
import { remove } from '../data/api';
import { type TransferRow } from '../data/queries';
import { Gauge } from '../parts/gauge';
import { grouped } from '../parts/grade';
import { ErrorAlert, when } from '../parts/page';
import { lasting } from './lasting';

/** What a person does at the other end, to be printed and taken there. */
function Sheet({ row }: { row: TransferRow }) {
  return (
    <details className="mt-1" data-testid={`sheet-${row.id}`}>
      <summary className="cursor-pointer">What to do at the other end</summary>
      <ol className="mt-1 list-decimal space-y-0.5 pl-6">
        <li>
          Set the line there to {row.rate} bits a second, eight data bits, no parity, one stop bit,
          and no handshake.
        </li>
        {row.loaderLines > 0 ? (
          <li>
            Leave the machine at its prompt, and type nothing: {row.loaderLines} lines are typed in
            from here at {row.typingRate} characters a second, and the last one starts the program.
          </li>
        ) : (
          <li>
            Start its receiving program for XMODEM
            {row.large ? ' with CRC and blocks of 1,024 bytes (1K)' : ' with CRC'}
            {row.nameThere && (
              <>
                , and give <b className="font-mono">{row.nameThere}</b> as the name
              </>
            )}
            .
          </li>
        )}
        <li>
          Wait until it says that it is done: {grouped(row.bytes)} bytes,{' '}
          {lasting(row.bytes, row.rate)}. The file there is filled up to a multiple of 128 bytes.
        </li>
        <li>
          If it stops, start it again there: it goes on from here by itself, or is given up here.
        </li>
      </ol>
      <button type="button" onClick={() => window.print()} className="mt-1 text-oxide underline">
        Print it
      </button>
    </details>
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
        `${row.state === 'done' ? 'border-l-verdigris' : row.state === 'held' ? 'border-l-ochre' : row.state === 'failed' ? 'border-l-ink' : 'border-l-oxide'}`
      }
    >
      <p className="text-ink-2" suppressHydrationWarning>
        Line {row.line} · {row.rate} bits a second · {row.who}, started {when(row.startedAt)}
      </p>
      <h2>
        <span className="font-mono">{row.code}</span>: {row.title}
      </h2>
      <Gauge done={done} of={row.bytes} label="Bytes acknowledged" className="my-1 w-full" />
      <p className={row.state === 'done' ? 'font-[650] text-verdigris' : ''}>
        {row.now}
        {row.repeated > 0 &&
          ` ${row.repeated} ${row.repeated === 1 ? 'block' : 'blocks'} went more than once.`}{' '}
        {running && !row.cancelled && (
          <button
            type="button"
            onClick={() => giveUp.mutate()}
            className="ml-2 text-oxide underline"
          >
            Give it up
          </button>
        )}
      </p>
      <Sheet row={row} />
      <ErrorAlert>{giveUp.error?.message}</ErrorAlert>
    </article>
  );
}
