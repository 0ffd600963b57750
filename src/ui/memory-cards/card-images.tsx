'use client';
/** The images that go on a card: found by searching, chosen in their order. */
import { Dispatch, SetStateAction } from 'react';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import type { Holdings } from '../data/queries';
import { field } from '../parts/field-look';

export type Copy = Holdings['copies'][number];

interface CardImagesProps {
  typed: string;
  setTyped: Dispatch<SetStateAction<string>>;
  found: readonly Copy[];
  setChosen: (copies: readonly Copy[]) => void;
  chosen: readonly Copy[];
}

export function CardImages({ typed, setTyped, found, setChosen, chosen }: CardImagesProps) {
  return (
    <div className="min-w-0">
      <label className="block">
        {say.memoryCards.imagesFoundBySearching}
        <input
          type="search"
          data-testid="card-search"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
          placeholder={say.memoryCards.codesTitlesLenders}
          className={field}
        />
      </label>
      {found.length > 0 && (
        <p className="mt-1">
          <button
            type="button"
            onClick={() => setChosen([...chosen, ...found])}
            className="text-oxide underline"
          >
            {say.memoryCards.takeAll({ found: found.length })}
          </button>
        </p>
      )}
      <CardsFound found={found} setChosen={setChosen} chosen={chosen} />
      <CardCount chosen={chosen} setChosen={setChosen} />
      <CardChosen chosen={chosen} setChosen={setChosen} />
    </div>
  );
}

interface CardsFoundProps {
  found: CardImagesProps['found'];
  setChosen: CardImagesProps['setChosen'];
  chosen: CardImagesProps['chosen'];
}

function CardsFound({ found, setChosen, chosen }: CardsFoundProps) {
  return (
    <ul className="max-h-44 overflow-auto" data-testid="card-found">
      {found.slice(0, 100).map((copy) => (
        <li key={copy.id}>
          <button
            type="button"
            onClick={() => setChosen([...chosen, copy])}
            className="flex w-full gap-3 px-1 py-0.5 text-left text-ink hover:bg-oxide-wash"
          >
            <b className="w-20 shrink-0 font-mono">{copy.code}</b>
            <span className="truncate">{copy.title}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function CardCount({
  chosen,
  setChosen,
}: {
  chosen: CardImagesProps['chosen'];
  setChosen: CardImagesProps['setChosen'];
}) {
  return (
    <p className="mt-2 text-ink">
      <b>{say.memoryCards.onTheCard({ chosen: chosen.length })}</b>
      {chosen.length > 0 && (
        <>
          {say.memoryCards.bytes({
            reduce: grouped(chosen.reduce((sum, { bytes }) => sum + bytes, 0)),
          })}{' '}
          <button type="button" onClick={() => setChosen([])} className="ml-2 text-oxide underline">
            {say.memoryCards.noneOfThem}
          </button>
        </>
      )}
    </p>
  );
}

interface CardChosenProps {
  chosen: CardImagesProps['chosen'];
  setChosen: CardImagesProps['setChosen'];
}

function CardChosen({ chosen, setChosen }: CardChosenProps) {
  return (
    <ol className="max-h-44 overflow-auto" data-testid="card-chosen">
      {chosen.map((copy, i) => (
        <li key={copy.id} className="flex gap-3 px-1 py-0.5 text-ink">
          <span className="w-8 text-right font-mono">{i + 1}</span>
          <b className="w-20 font-mono">{copy.code}</b>
          <span className="min-w-0 flex-1 truncate">{copy.title}</span>
          <button
            type="button"
            aria-label={say.memoryCards.takeOff({ code: copy.code })}
            onClick={() => setChosen(chosen.filter(({ id }) => id !== copy.id))}
            className="text-oxide underline"
          >
            {say.memoryCards.off}
          </button>
        </li>
      ))}
    </ol>
  );
}
