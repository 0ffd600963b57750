'use client';
/** One image, chosen by searching for it: from what answers, never typed exactly. */
import { RefObject, useRef, useState, type KeyboardEvent } from 'react';
import type { Holdings } from '../data/queries';
import { useTypedSearch } from '../data/typed-search';
import { useEnterWhenAnswered } from '../parts/enter-when-answered';
import { useKey } from '../parts/keys';
import { say } from '@/messages';

export type FoundImage = Holdings['copies'][number];

const SHOWN = 12;

interface ImageSearchProps {
  label: string;
  onChoose: (image: FoundImage) => void;
}

export function ImageSearch({ label, onChoose }: ImageSearchProps) {
  const [typed, setTyped] = useState('');
  const [at, setAt] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  const { asked, data, answer } = useTypedSearch(typed, (word) => word !== '');
  useKey('/', () => input.current?.focus());
  const copies = asked === '' ? [] : (data?.copies ?? []).slice(0, SHOWN);
  const choose = (image: FoundImage) => {
    onChoose(image);
    setTyped('');
  };
  const enter = useEnterWhenAnswered(answer, () => copies[at] && choose(copies[at]));
  const keys = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown') setAt((was) => Math.min(copies.length - 1, was + 1));
    else if (event.key === 'ArrowUp') setAt((was) => Math.max(0, was - 1));
    else if (event.key === 'Enter') enter.press();
    else if (event.key === 'Escape') setTyped('');
    else return;
    event.preventDefault();
  };
  return (
    <>
      <SearchField
        label={label}
        input={input}
        typed={typed}
        onType={(text) => {
          setTyped(text);
          setAt(0);
          enter.forget();
        }}
        keys={keys}
      />
      {copies.length > 0 && <ImagesFound copies={copies} at={at} choose={choose} />}
      {asked !== '' && data && copies.length === 0 && (
        <p className="mt-2 text-[13px] text-ink-2">{say.writebacks.nothingKeptAnswersTo}</p>
      )}
    </>
  );
}

interface ImagesFoundProps {
  copies: readonly FoundImage[];
  at: number;
  choose: (image: FoundImage) => void;
}

interface SearchFieldProps {
  label: string;
  input: RefObject<HTMLInputElement | null>;
  typed: string;
  onType: (text: string) => void;
  keys: (event: KeyboardEvent) => void;
}

function SearchField({ label, input, typed, onType, keys }: SearchFieldProps) {
  return (
    <label className="block text-[13px] text-ink-2">
      {label}
      <input
        ref={input}
        type="search"
        data-testid="image-choice"
        value={typed}
        onChange={(event) => onType(event.target.value)}
        onKeyDown={keys}
        placeholder={say.writebacks.aCodeATitle}
        className="mt-0.5 w-full border border-line bg-ground px-3 py-2 text-[16px] text-ink"
      />
    </label>
  );
}

function ImagesFound({ copies, at, choose }: ImagesFoundProps) {
  return (
    <ul
      role="listbox"
      aria-label={say.writebacks.imagesFound}
      className="max-h-64 overflow-auto border border-t-0 border-line"
    >
      {copies.map((image, i) => (
        <li key={image.id} role="option" aria-selected={i === at}>
          <button
            type="button"
            onClick={() => choose(image)}
            className={
              'flex w-full gap-4 px-3 py-1.5 text-left text-[14px] hover:bg-oxide-wash ' +
              `${i === at ? 'bg-oxide-wash' : ''}`
            }
          >
            <b className="w-20 font-mono">{image.code}</b>
            <span className="min-w-0 flex-1 truncate">{image.title}</span>
            <span className="text-ink-2">
              {[image.layout, ...image.volumes.map(({ filesystem }) => filesystem.toUpperCase())]
                .filter(Boolean)
                .join(' · ')}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
