'use client';
/** Begins a transfer: which image, over which line, how fast, with what typed in first. */
import { useMutation } from '@tanstack/react-query';
import { RefObject, useRef, useState } from 'react';
import { post, troubleOf } from '../data/api';
import { Button } from '../parts/button';
import { grouped } from '@/core/text/grouped';
import { ErrorAlert } from '../parts/page';
import { ImageSearch, type FoundImage } from '../writebacks/image-search';
import { lasting } from './lasting';
import { field } from '../parts/field-look';
import { say } from '@/messages';
import { TwoSteps } from './two-steps';

const FIRST = {
  large: false,
  loader: '',
  typingRate: 10,
  linePauseMs: 200,
  nameThere: '',
};

type About = typeof FIRST & { line: string; rate: number };

type SetAbout = (change: Partial<About>) => void;

interface NewTransferFormProps {
  lines: readonly { id: string; name: string; rates: number[] }[];
}

export function NewTransferForm({ lines }: NewTransferFormProps) {
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
          <ChosenImage image={image} about={about} setImage={setImage} />
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
              <div className="flex items-center gap-3">
                <Button tone="primary" disabled={start.isPending} onClick={() => start.mutate()}>
                  {say.transfers.sendOverLine({ code: image.code, line: about.line })}
                </Button>
                <ErrorAlert>{troubleOf(start.error)}</ErrorAlert>
              </div>
            </>
          )}
          <TwoSteps key={image.id} image={image} />
        </div>
      )}
    </section>
  );
}

interface LineChoiceProps {
  about: About;
  set: SetAbout;
  lines: readonly { id: string; name: string; rates: number[] }[];
  line: { id: string; name: string; rates: number[] } | undefined;
}

interface ChosenImageProps {
  image: FoundImage;
  about: About;
  setImage: (image: FoundImage | null) => void;
}

function ChosenImage({ image, about, setImage }: ChosenImageProps) {
  return (
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
  );
}

function LineChoice({ about, set, lines, line }: LineChoiceProps) {
  return (
    <div className="grid grid-cols-4 gap-3">
      <LineField about={about} set={set} lines={lines} />
      <RateField about={about} set={set} line={line} />
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

interface LoaderTextProps {
  picker: RefObject<HTMLInputElement | null>;
  about: About;
  set: SetAbout;
}

interface LineFieldProps {
  about: About;
  set: SetAbout;
  lines: LineChoiceProps['lines'];
}

function LineField({ about, set, lines }: LineFieldProps) {
  return (
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
  );
}

interface RateFieldProps {
  about: About;
  set: SetAbout;
  line: LineChoiceProps['line'];
}

function RateField({ about, set, line }: RateFieldProps) {
  return (
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
  );
}

function LoaderText({ picker, about, set }: LoaderTextProps) {
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
