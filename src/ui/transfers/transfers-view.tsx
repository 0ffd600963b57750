'use client';
/**
 * Transfers over a serial line to a machine that has no other way in; and ways of two steps,
 * through a larger disk.
 */
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRef, useState } from 'react';
import { BLANK_KINDS } from '@/core/identify/writable-volume';
import { post, remove, troubleOf } from '../data/api';
import { transfersQuery, type TransferRow } from '../data/queries';
import { Button } from '../parts/button';
import { Gauge } from '../parts/gauge';
import { grouped } from '../parts/grade';
import { EmptyState, PageHead, ErrorAlert, when } from '../parts/page';
import { ImageSearch, type FoundImage } from '../writebacks/image-search';

const field = 'mt-0.5 block w-full border border-line bg-sheet px-2 py-1.5 text-[15px] text-ink';
const BITS_A_BYTE = 10;
/** Bytes of a block with what frames it. */
const BLOCK = 133 / 128;

/** How long the line takes for so many bytes, in words. */
function lasting(bytes: number, rate: number): string {
  const minutes = (bytes * BLOCK * BITS_A_BYTE) / rate / 60;
  return minutes < 1.5
    ? 'about a minute'
    : minutes < 90
      ? `about ${Math.round(minutes)} minutes`
      : `about ${(minutes / 60).toFixed(1)} hours`;
}

/** A way of two steps: the image as a file on a disk that the machine does read. */
function TwoSteps({ image }: { image: FoundImage }) {
  const [kind, setKind] = useState('fat12-1440');
  const plan = useMutation({
    mutationFn: () =>
      post<{ id: number; name: string }>('/api/transfers/plans', { copyId: image.id, kind }),
  });
  const carriers = BLANK_KINDS.filter(({ bytes }) => bytes > image.bytes);
  return (
    <div className="border-t border-line pt-3">
      <p className="mb-1">
        Or in two steps: the image as a file on a disk that the machine reads, to be unpacked there.
      </p>
      {carriers.length === 0 ? (
        <p>No volume here is large enough for it.</p>
      ) : (
        <p className="flex items-end gap-2">
          <label className="flex-1">
            The disk that carries it
            <select
              value={carriers.some(({ id }) => id === kind) ? kind : carriers[0]!.id}
              onChange={(event) => setKind(event.target.value)}
              className={field}
            >
              {carriers.map(({ id, title }) => (
                <option key={id} value={id}>
                  {title}
                </option>
              ))}
            </select>
          </label>
          <Button disabled={plan.isPending} onClick={() => plan.mutate()}>
            Plan both steps
          </Button>
        </p>
      )}
      <ErrorAlert>{plan.error?.message}</ErrorAlert>
      {plan.data && (
        <ol data-testid="steps" className="mt-2 list-decimal space-y-1 pl-6 text-ink">
          <li>
            <Link href={`/assembly/${plan.data.id}`} className="font-[650] text-oxide underline">
              The disk that carries it
            </Link>{' '}
            is put together, with the image as <b className="font-mono">{plan.data.name}</b>. Settle
            it, return it to a blank, and see it proved.
          </li>
          <li>
            On the far machine put that disk in, and let its own program write{' '}
            <b className="font-mono">{plan.data.name}</b> to a disk of {grouped(image.bytes)} bytes
            {image.layout && ` (${image.layout})`}.
          </li>
          <li>
            Read that disk here, if it comes back: its digest should be{' '}
            <span className="font-mono">{image.sha256.slice(0, 16)} …</span>
          </li>
        </ol>
      )}
    </div>
  );
}

function NewTransferForm({
  lines,
}: {
  lines: readonly { id: string; name: string; rates: number[] }[];
}) {
  const [image, setImage] = useState<FoundImage | null>(null);
  const [about, setAbout] = useState({
    line: lines[0]?.id ?? '',
    rate: lines[0]?.rates.includes(9600) ? 9600 : (lines[0]?.rates[0] ?? 9600),
    large: false,
    loader: '',
    typingRate: 10,
    linePauseMs: 200,
    nameThere: '',
  });
  const picker = useRef<HTMLInputElement>(null);
  const start = useMutation({
    mutationFn: () => post('/api/transfers', { ...about, fairCopyId: image!.id }),
    onSuccess: () => setImage(null),
  });
  const set = (change: Partial<typeof about>) => setAbout({ ...about, ...change });
  const line = lines.find(({ id }) => id === about.line);
  const seconds =
    about.loader.length / about.typingRate +
    (about.loader.split('\n').length * about.linePauseMs) / 1000;
  return (
    <section
      aria-label="Send an image"
      className="mb-6 border border-line bg-sheet px-4 py-3 text-[13px] text-ink-2"
    >
      <ImageSearch label="Send an image to a far machine" onChoose={setImage} />
      {image && (
        <div className="mt-3 space-y-3">
          <p className="text-[15px] text-ink">
            <b className="font-mono">{image.code}</b> {image.title}{' '}
            <span className="text-ink-2">
              · {grouped(image.bytes)} bytes, {lasting(image.bytes, about.rate)} at this rate
            </span>{' '}
            <button
              type="button"
              onClick={() => setImage(null)}
              className="ml-3 text-[13px] text-oxide underline"
            >
              Another one
            </button>
          </p>
          {lines.length === 0 ? (
            <p>The bench has no serial line, or can&rsquo;t be reached.</p>
          ) : (
            <>
              <div className="grid grid-cols-4 gap-3">
                <label>
                  Line
                  <select
                    value={about.line}
                    onChange={(event) => set({ line: event.target.value })}
                    className={field}
                  >
                    {lines.map(({ id, name }) => (
                      <option key={id} value={id}>
                        {id}, {name}
                      </option>
                    ))}
                  </select>
                </label>
                <label>
                  Bits a second
                  <select
                    value={about.rate}
                    onChange={(event) => set({ rate: Number(event.target.value) })}
                    className={field}
                  >
                    {line?.rates.map((rate) => (
                      <option key={rate} value={rate}>
                        {rate}
                      </option>
                    ))}
                  </select>
                </label>
                <label>
                  Its name over there
                  <input
                    value={about.nameThere}
                    onChange={(event) => set({ nameThere: event.target.value })}
                    maxLength={60}
                    className={`${field} font-mono`}
                  />
                </label>
                <label className="flex items-center gap-2 pt-5">
                  <input
                    type="checkbox"
                    checked={about.large}
                    onChange={(event) => set({ large: event.target.checked })}
                    className="size-4"
                  />
                  Blocks of 1,024 bytes
                </label>
              </div>
              <label className="block">
                A receiving program to be typed in first, where the far machine has none.{' '}
                <button
                  type="button"
                  onClick={() => picker.current?.click()}
                  className="text-oxide underline"
                >
                  From a file
                </button>
                <textarea
                  data-testid="loader"
                  value={about.loader}
                  onChange={(event) => set({ loader: event.target.value })}
                  rows={3}
                  spellCheck={false}
                  className={`${field} font-mono text-[13px]`}
                />
              </label>
              <input
                ref={picker}
                type="file"
                hidden
                onChange={(event) => {
                  void event.target.files?.[0]?.text().then((loader) => set({ loader }));
                  event.target.value = '';
                }}
              />
              {about.loader !== '' && (
                <div className="flex gap-3">
                  <label>
                    Characters a second
                    <input
                      type="number"
                      min={1}
                      max={1000}
                      value={about.typingRate}
                      onChange={(event) => set({ typingRate: Number(event.target.value) || 1 })}
                      className={`${field} w-32`}
                    />
                  </label>
                  <label>
                    Milliseconds behind a line
                    <input
                      type="number"
                      min={0}
                      max={20_000}
                      value={about.linePauseMs}
                      onChange={(event) => set({ linePauseMs: Number(event.target.value) || 0 })}
                      className={`${field} w-40`}
                    />
                  </label>
                  <p className="self-end pb-2">{Math.ceil(seconds)} seconds of typing</p>
                </div>
              )}
              <p className="flex items-center gap-3">
                <Button tone="primary" disabled={start.isPending} onClick={() => start.mutate()}>
                  Send {image.code} over line {about.line}
                </Button>
                <ErrorAlert>{troubleOf(start.error)}</ErrorAlert>
              </p>
            </>
          )}
          <TwoSteps key={image.id} image={image} />
        </div>
      )}
    </section>
  );
}

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

function TransferPanel({ row }: { row: TransferRow }) {
  const giveUp = useMutation({ mutationFn: () => remove(`/api/transfers/${row.id}`) });
  const running = row.endedAt === null;
  const done = row.state === 'done' ? row.bytes : (row.progress?.acknowledged ?? 0);
  return (
    <article
      data-testid={`transfer-${row.id}`}
      data-state={row.state}
      className={`mb-3 border border-l-[7px] border-line bg-sheet px-4 py-3 text-[13px] ${row.state === 'done' ? 'border-l-verdigris' : row.state === 'held' ? 'border-l-ochre' : row.state === 'failed' ? 'border-l-ink' : 'border-l-oxide'}`}
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

export function LinesView() {
  const { data } = useQuery(transfersQuery);
  const rows = data?.transfers ?? [];
  const open = rows.filter(({ endedAt }) => endedAt === null).length;
  return (
    <>
      <PageHead
        over="For machines that have no other way in"
        title={
          open > 0
            ? `${open} on ${open === 1 ? 'its' : 'their'} way over a line`
            : rows.length === 0
              ? 'Nothing was sent over a line yet'
              : `${rows.filter(({ state }) => state === 'done').length} of ${rows.length} arrived`
        }
      />
      {data && <NewTransferForm key={data.lines.map(({ id }) => id).join()} lines={data.lines} />}
      {rows.length === 0 && (
        <EmptyState>
          Search for the image above. It goes block by block, each acknowledged by the far machine;
          where that has no receiving program, one of yours is typed in first, at the pace that it
          can take.
        </EmptyState>
      )}
      {rows.map((row) => (
        <TransferPanel key={row.id} row={row} />
      ))}
    </>
  );
}
