'use client';
/** What to write back, and to which of the blanks in the stations. */
import { useQuery } from '@tanstack/react-query';
import { Dispatch, SetStateAction, useState } from 'react';
import { docketQuery } from '../data/queries';
import { ImageSearch } from './image-search';
import { WritebackPanel } from './writeback-panel';
import { say } from '@/messages';
import type { DocketData } from '../data/queries';

export function ImageChoice() {
  const [chosen, setChosen] = useState<string | null>(null);
  const { data: docket } = useQuery({ ...docketQuery(chosen ?? ''), enabled: chosen !== null });
  return (
    <section
      aria-label={say.writebacks.writeAnImageBack}
      className="mb-6 border border-line bg-sheet px-4 py-3"
    >
      <ImageSearch
        label={say.writebacks.writeAnImageBackTo}
        onChoose={({ code }) => setChosen(code)}
      />
      {chosen && docket?.copy && (
        <ChosenImage
          chosen={chosen}
          docket={{ ...docket, copy: docket.copy }}
          setChosen={setChosen}
        />
      )}
    </section>
  );
}

interface ChosenImageProps {
  chosen: string;
  docket: Pick<DocketData, 'medium' | 'capture'> & { copy: NonNullable<DocketData['copy']> };
  setChosen: Dispatch<SetStateAction<string | null>>;
}

function ChosenImage({ chosen, docket, setChosen }: ChosenImageProps) {
  return (
    <div className="mt-3">
      <p className="mb-2 text-[15px]">
        <b className="font-mono">{chosen}</b> {docket.medium.title}
        {docket.copy.layout && <span className="text-ink-2"> · {docket.copy.layout}</span>}{' '}
        <button
          type="button"
          onClick={() => setChosen(null)}
          className="ml-3 text-[13px] text-oxide underline"
        >
          {say.writebacks.anotherOne}
        </button>
      </p>
      <WritebackPanel
        key={docket.copy.id}
        image={{
          copyId: docket.copy.id,
          code: chosen,
          hasFlux: docket.capture !== null && docket.copy.blocks === null,
        }}
      />
    </div>
  );
}
