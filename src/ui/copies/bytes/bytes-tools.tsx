'use client';
/** Where to go in the bytes of an image: a search, a place, a table. */
import { Dispatch, SetStateAction, type FormEvent } from 'react';
import { Button } from '@/ui/parts/button';
import { input } from './bytes-input';
import { say } from '@/messages';

interface BytesToolsProps {
  search: (event: FormEvent) => void;
  typed: string;
  setTyped: Dispatch<SetStateAction<string>>;
  setSought: Dispatch<SetStateAction<string>>;
  found: { length: number; offsets: number[]; count: number } | undefined;
  next: (by: 1 | -1) => void;
  jump: (event: FormEvent) => void;
  place: string;
  setPlace: Dispatch<SetStateAction<string>>;
  map:
    | {
        size: number;
        sha256: string;
        areas: { name: string; offset: number; length: number; volume: string }[];
      }
    | undefined;
  go: (to: number) => void;
}

export function BytesTools({
  search,
  typed,
  setTyped,
  setSought,
  found,
  next,
  jump,
  place,
  setPlace,
  map,
  go,
}: BytesToolsProps) {
  return (
    <div className="mb-3 flex flex-wrap items-end gap-x-5 gap-y-2">
      <SearchForm search={search} typed={typed} setTyped={setTyped} setSought={setSought} />
      {(found?.offsets.length ?? 0) > 0 && <FoundSteps next={next} />}
      <PlaceForm jump={jump} place={place} setPlace={setPlace} />
      {map && map.areas.length > 0 && <TableChoice go={go} map={map} />}
    </div>
  );
}

interface SearchFormProps {
  search: (event: FormEvent) => void;
  typed: string;
  setTyped: BytesToolsProps['setTyped'];
  setSought: BytesToolsProps['setSought'];
}

function FoundSteps({ next }: { next: (by: 1 | -1) => void }): import('react').ReactNode {
  return (
    <span className="flex gap-2">
      <Button hotkey="p" onClick={() => next(-1)}>
        {say.bytes.previous}
      </Button>
      <Button hotkey="n" onClick={() => next(1)}>
        {say.bytes.next}
      </Button>
    </span>
  );
}

function SearchForm({ search, typed, setTyped, setSought }: SearchFormProps) {
  return (
    <form onSubmit={search} className="flex items-end gap-2">
      <label className="text-[13px] text-ink-2">
        {say.bytes.searchATextIn}
        <br />
        <input
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          className={`${input} w-72 font-mono text-ink`}
          aria-label={say.bytes.searchTheImage}
        />
      </label>
      <Button onClick={() => setSought(typed.trim())}>{say.bytes.search}</Button>
    </form>
  );
}

function PlaceForm({
  jump,
  place,
  setPlace,
}: {
  jump: (event: FormEvent) => void;
  place: string;
  setPlace: BytesToolsProps['setPlace'];
}) {
  return (
    <form onSubmit={jump} className="flex items-end gap-2">
      <label className="text-[13px] text-ink-2">
        {say.bytes.goToAPlace}
        <br />
        <input
          value={place}
          onChange={(event) => setPlace(event.target.value)}
          className={`${input} w-32 font-mono text-ink`}
          placeholder="1A00h"
        />
      </label>
    </form>
  );
}

interface TableChoiceProps {
  go: (to: number) => void;
  map: NonNullable<BytesToolsProps['map']>;
}

function TableChoice({ go, map }: TableChoiceProps) {
  return (
    <label className="text-[13px] text-ink-2">
      {say.bytes.goToATable}
      <br />
      <select
        value=""
        onChange={(event) => go(Number(event.target.value))}
        className={`${input} max-w-72 text-ink`}
      >
        <option value="" disabled>
          {say.bytes.ofThem({ areas: map.areas.length })}
        </option>
        {map.areas.map(({ name, offset, volume }) => (
          <option key={`${name}${offset}`} value={offset}>
            {name}
            {volume && `, ${volume}`}
          </option>
        ))}
      </select>
    </label>
  );
}
