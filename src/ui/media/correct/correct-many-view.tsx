'use client';
/**
 * Facts of many media corrected at once: of those that were found and chosen, or by a table that was
 * saved here and changed elsewhere. What would change is seen before it is so.
 */
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useDeferredValue, useRef, useState } from 'react';
import { say } from '@/messages';
import { post } from '../../data/api';
import { mediaFactsQuery, type CorrectionsShown } from '../../data/queries';
import { Button } from '../../parts/button';
import { useKey } from '../../parts/keys';
import { EmptyState, ErrorAlert, PageHead } from '../../parts/page';
import { CorrectionPreview } from './correction-preview';
import { FACT_INPUTS } from './fact-inputs';
import { FactSetter, type Wanted } from './fact-setter';
import { MediaPicker } from './media-picker';
import { correctionsIn, type CorrectionRow, type ReadSheet } from './sheet-corrections';
import { SheetRemarks } from './sheet-remarks';

/** What was chosen of what these words find: of others, other media are. */
interface Picked {
  words: string;
  codes: ReadonlySet<string>;
}

/** What would change, and then that it did. */
function useCorrections() {
  const [done, setDone] = useState<number | null>(null);
  const look = useMutation({
    mutationFn: (media: readonly CorrectionRow[]) =>
      post<CorrectionsShown>('/api/corrections', { media, seen: null }),
    onMutate: () => setDone(null),
  });
  const change = useMutation({
    mutationFn: () =>
      post<{ corrected: number }>('/api/corrections', {
        media: look.variables,
        seen: look.data!.seen,
      }),
    onSuccess: ({ corrected }) => {
      look.reset();
      setDone(corrected);
    },
  });
  return { look, change, done };
}

/** Media that answer to words, and which of them are chosen. */
function useChosen(asked: string) {
  const [picked, setPicked] = useState<Picked | null>(null);
  const { data, error } = useQuery({
    ...mediaFactsQuery(asked),
    placeholderData: keepPreviousData,
  });
  // Who asked for some wants those; of everything that there is, nothing before it is chosen.
  const found = (data?.media ?? []).map(({ code }) => code);
  const byDefault = asked.trim() === '' ? [] : found;
  const wants = picked?.words === asked ? picked.codes : new Set(byDefault);
  const chosen = new Set(found.filter((code) => wants.has(code)));
  const choose = (codes: ReadonlySet<string>) => setPicked({ words: asked, codes });
  return { data, error, chosen, choose };
}

export function CorrectManyView() {
  const [q, setQ] = useState('');
  const [sheet, setSheet] = useState<ReadSheet | 'none' | null>(null);
  const asked = useDeferredValue(q);
  const { data, error, chosen, choose } = useChosen(asked);
  const { look, change, done } = useCorrections();
  const lookAtChosen = ({ fact, value }: Wanted) => {
    setSheet(null);
    look.mutate([...chosen].map((code) => ({ code, change: FACT_INPUTS[fact].change(value) })));
  };
  const takeSheet = async (file: File) => {
    const read = correctionsIn(await file.text());
    setSheet(read ?? 'none');
    look.reset();
    if (read && read.odd.length === 0 && read.rows.length > 0) look.mutate(read.rows);
  };
  return (
    <>
      <Head q={asked} takeSheet={(file) => void takeSheet(file)} />
      <Search q={q} setQ={setQ} />
      <ErrorAlert>{error?.message}</ErrorAlert>
      {data?.media.length === 0 && <EmptyState>{say.correct.noMediumAnswers}</EmptyState>}
      {data && data.media.length > 0 && (
        <MediaPicker found={data} chosen={chosen} setChosen={choose} />
      )}
      <WhatIsTrue count={chosen.size} isBusy={look.isPending} show={lookAtChosen} />
      {sheet && <SheetRemarks sheet={sheet} />}
      <ErrorAlert>{look.error?.message}</ErrorAlert>
      {look.data && (
        <CorrectionPreview
          shown={look.data}
          isBusy={change.isPending}
          trouble={change.error?.message}
          correct={() => change.mutate()}
        />
      )}
      {done !== null && (
        <p role="status" className="mt-4 font-[650]" data-testid="corrected">
          {say.correct.wereCorrected({ count: done })}
        </p>
      )}
    </>
  );
}

interface WhatIsTrueProps {
  /** Media that are chosen. */
  count: number;
  isBusy: boolean;
  show(wanted: Wanted): void;
}

function WhatIsTrue({ count, isBusy, show }: WhatIsTrueProps) {
  const [wanted, setWanted] = useState<Wanted>({ fact: 'lender', value: '' });
  return (
    <form
      className="mt-3 flex items-end gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        show(wanted);
      }}
    >
      <FactSetter wanted={wanted} setWanted={setWanted} />
      <Button type="submit" disabled={count === 0 || isBusy}>
        {say.correct.showWhatChanges({ count })}
      </Button>
    </form>
  );
}

function Search({ q, setQ }: { q: string; setQ(q: string): void }) {
  const words = useRef<HTMLInputElement>(null);
  useKey('/', () => words.current?.focus());
  return (
    <input
      ref={words}
      type="search"
      aria-label={say.correct.wordsAsked}
      placeholder={say.correct.wordsAsked}
      value={q}
      onChange={({ target }) => setQ(target.value)}
      className="mb-3 w-full border border-line bg-sheet px-3 py-2"
    />
  );
}

function Head({ q, takeSheet }: { q: string; takeSheet(file: File): void }) {
  return (
    <PageHead
      over={
        <Link href="/arrivals" className="underline">
          {say.correct.arrivals}
        </Link>
      }
      title={say.correct.title}
    >
      <a
        href={`/api/media-facts?sheet=csv&q=${encodeURIComponent(q)}`}
        download
        className="self-center text-[13px] font-[650] text-oxide underline"
      >
        {say.correct.asTable}
      </a>
      <label className="cursor-pointer self-center text-[13px] font-[650] text-oxide underline">
        {say.correct.bringTableBack}
        <input
          type="file"
          accept=".csv,.tsv,.txt,text/csv"
          className="sr-only"
          onChange={({ target }) => {
            const [file] = target.files ?? [];
            if (file) takeSheet(file);
            // The same file, changed again, is taken again.
            target.value = '';
          }}
        />
      </label>
    </PageHead>
  );
}
