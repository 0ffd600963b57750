'use client';
/** Strings of an image, and a way to each. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Dispatch, SetStateAction, useState } from 'react';
import { imageStringsQuery } from '@/ui/data/queries';
import { hexPlace } from '@/ui/parts/hex-rows';
import { ErrorAlert } from '@/ui/parts/page';
import { input } from './bytes-input';
import { say } from '@/messages';

export function Strings({ id, onGo }: { id: number; onGo: (place: number) => void }) {
  const [least, setLeast] = useState(8);
  const [from, setFrom] = useState(0);
  const { data, error } = useQuery({
    ...imageStringsQuery(id, from, least),
    placeholderData: keepPreviousData,
  });
  const last = data?.strings[data.strings.length - 1];
  return (
    <>
      <StringsHead
        least={least}
        setFrom={setFrom}
        setLeast={setLeast}
        from={from}
        data={data}
        last={last}
      />
      <ErrorAlert>{error?.message}</ErrorAlert>
      <ul className="text-[12px]" data-testid="strings">
        {data?.strings.map(({ offset, text }) => (
          <StringLine key={offset} onGo={onGo} offset={offset} text={text} />
        ))}
      </ul>
      {data?.strings.length === 0 && (
        <p className="text-[13px] text-ink-2">{say.bytes.noRunOfPrintable}</p>
      )}
    </>
  );
}

interface StringsHeadProps {
  least: number;
  setFrom: Dispatch<SetStateAction<number>>;
  setLeast: Dispatch<SetStateAction<number>>;
  from: number;
  data: { strings: { offset: number; text: string; length: number }[]; more: boolean } | undefined;
  last: { offset: number; text: string; length: number } | undefined;
}

function StringLine({
  onGo,
  offset,
  text,
}: {
  onGo: (place: number) => void;
  offset: number;
  text: string;
}) {
  return (
    <li>
      <button
        type="button"
        onClick={() => onGo(offset)}
        className="flex min-h-[24px] w-full items-center gap-3 text-left hover:bg-sheet"
      >
        <span className="w-16 shrink-0 font-mono text-ink-2">{hexPlace(offset)}</span>
        <span className="truncate font-mono">{text}</span>
      </button>
    </li>
  );
}

function StringsHead({ least, setFrom, setLeast, from, data, last }: StringsHeadProps) {
  return (
    <p className="mb-2 flex items-center gap-2 text-[13px]">
      <LeastField least={least} setFrom={setFrom} setLeast={setLeast} />
      {from > 0 && (
        <button type="button" onClick={() => setFrom(0)} className="text-oxide underline">
          {say.bytes.fromTheStart}
        </button>
      )}
      {data?.more && last && (
        <button
          type="button"
          onClick={() => setFrom(last.offset + last.length)}
          className="text-oxide underline"
        >
          {say.bytes.moreFrom({ offset: hexPlace(last.offset + last.length) })}
        </button>
      )}
    </p>
  );
}

interface LeastFieldProps {
  least: number;
  setFrom: StringsHeadProps['setFrom'];
  setLeast: StringsHeadProps['setLeast'];
}

function LeastField({ least, setFrom, setLeast }: LeastFieldProps) {
  return (
    <label>
      {say.bytes.atLeast}{' '}
      <input
        type="number"
        min={3}
        max={64}
        value={least}
        onChange={(event) => {
          setFrom(0);
          setLeast(Math.max(3, Math.min(64, Number(event.target.value) || 8)));
        }}
        className={`${input} w-16`}
      />{' '}
      {say.bytes.characters}
    </label>
  );
}
