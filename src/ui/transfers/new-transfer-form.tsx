'use client';
/** Begins a transfer: which image, over which line, how fast, with what typed in first. */
import { useMutation } from '@tanstack/react-query';
import Link from 'next/link';
import { RefObject, useRef, useState } from 'react';
import { BLANK_KINDS } from '@/core/identify/writable-volume';
import { post, troubleOf } from '../data/api';
import { Button } from '../parts/button';
import { grouped } from '../parts/grade';
import { ErrorAlert } from '../parts/page';
import { ImageSearch, type FoundImage } from '../writebacks/image-search';
import { lasting } from './lasting';
import { say } from '@/messages';

const field = 'mt-0.5 block w-full border border-line bg-sheet px-2 py-1.5 text-[15px] text-ink';

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
      <p className="mb-1">{say.transfers.orInTwoSteps}</p>
      {carriers.length === 0 ? (
        <p>{say.transfers.noVolumeHereIs}</p>
      ) : (
        <p className="flex items-end gap-2">
          <label className="flex-1">
            {say.transfers.theDiskThatCarries}
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
            {say.transfers.planBothSteps}
          </Button>
        </p>
      )}
      <ErrorAlert>{plan.error?.message}</ErrorAlert>
      {plan.data && (
        <ol data-testid="steps" className="mt-2 list-decimal space-y-1 pl-6 text-ink">
          <li>
            <Link href={`/assembly/${plan.data.id}`} className="font-[650] text-oxide underline">
              {say.transfers.theDiskThatCarries}
            </Link>{' '}
            {say.transfers.isPutTogetherWith} <b className="font-mono">{plan.data.name}</b>
            {say.transfers.settleItReturnIt}
          </li>
          <li>
            {say.transfers.onTheFarMachine} <b className="font-mono">{plan.data.name}</b>{' '}
            {say.transfers.toADiskOf({ bytes: grouped(image.bytes) })}
            {image.layout && ` (${image.layout})`}.
          </li>
          <li>
            {say.transfers.readThatDiskHere}{' '}
            <span className="font-mono">{image.sha256.slice(0, 16)} …</span>
          </li>
        </ol>
      )}
    </div>
  );
}

const FIRST = {
  large: false,
  loader: '',
  typingRate: 10,
  linePauseMs: 200,
  nameThere: '',
};
type About = typeof FIRST & { line: string; rate: number };
type SetAbout = (change: Partial<About>) => void;

export function NewTransferForm({
  lines,
}: {
  lines: readonly { id: string; name: string; rates: number[] }[];
}) {
  const [image, setImage] = useState<FoundImage | null>(null);
  const [about, setAbout] = useState<About>({
    ...FIRST,
    line: lines[0]?.id ?? '',
    rate: lines[0]?.rates.includes(9600) ? 9600 : (lines[0]?.rates[0] ?? 9600),
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
      aria-label={say.transfers.sendAnImage}
      className="mb-6 border border-line bg-sheet px-4 py-3 text-[13px] text-ink-2"
    >
      <ImageSearch label={say.transfers.sendAnImageTo} onChoose={setImage} />
      {image && (
        <div className="mt-3 space-y-3">
          <p className="text-[15px] text-ink">
            <b className="font-mono">{image.code}</b> {image.title}{' '}
            <span className="text-ink-2">
              {say.transfers.bytesAtThisRate({
                bytes: grouped(image.bytes),
                bytes2: lasting(image.bytes, about.rate),
              })}
            </span>{' '}
            <button
              type="button"
              onClick={() => setImage(null)}
              className="ml-3 text-[13px] text-oxide underline"
            >
              {say.transfers.anotherOne}
            </button>
          </p>
          {lines.length === 0 ? (
            <p>{say.transfers.theBenchHasNo}</p>
          ) : (
            <>
              <LineChoice about={about} set={set} lines={lines} line={line} />
              <LoaderText picker={picker} about={about} set={set} />
              <input
                ref={picker}
                type="file"
                hidden
                onChange={(event) => {
                  void event.target.files?.[0]?.text().then((loader) => set({ loader }));
                  event.target.value = '';
                }}
              />
              {about.loader !== '' && <TypingRate about={about} set={set} seconds={seconds} />}
              <p className="flex items-center gap-3">
                <Button tone="primary" disabled={start.isPending} onClick={() => start.mutate()}>
                  {say.transfers.sendOverLine({ code: image.code, line: about.line })}
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

function LineChoice({
  about,
  set,
  lines,
  line,
}: {
  about: About;
  set: SetAbout;
  lines: readonly { id: string; name: string; rates: number[] }[];
  line: { id: string; name: string; rates: number[] } | undefined;
}) {
  return (
    <div className="grid grid-cols-4 gap-3">
      <label>
        {say.transfers.line}
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
        {say.transfers.bitsASecond}
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
        {say.transfers.itsNameOverThere}
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
        {say.transfers.blocksOf1024}
      </label>
    </div>
  );
}

function LoaderText({
  picker,
  about,
  set,
}: {
  picker: RefObject<HTMLInputElement | null>;
  about: About;
  set: SetAbout;
}) {
  return (
    <label className="block">
      {say.transfers.aReceivingProgramTo}{' '}
      <button
        type="button"
        onClick={() => picker.current?.click()}
        className="text-oxide underline"
      >
        {say.transfers.fromAFile}
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
  );
}

function TypingRate({ about, set, seconds }: { about: About; set: SetAbout; seconds: number }) {
  return (
    <div className="flex gap-3">
      <label>
        {say.transfers.charactersASecond}
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
        {say.transfers.millisecondsBehindALine}
        <input
          type="number"
          min={0}
          max={20000}
          value={about.linePauseMs}
          onChange={(event) => set({ linePauseMs: Number(event.target.value) || 0 })}
          className={`${field} w-40`}
        />
      </label>
      <p className="self-end pb-2">
        {say.transfers.secondsOfTyping({ seconds: Math.ceil(seconds) })}
      </p>
    </div>
  );
}
