'use client';
/** How a disk did in the machine that it was made for, said by whoever tried it. */
import { useMutation } from '@tanstack/react-query';
import { Dispatch, SetStateAction, useState } from 'react';
import { post } from '../data/api';
import type { WritebackRow } from '../data/queries';
import { ErrorAlert } from '../parts/page';
import { say } from '@/messages';

const TRIALS = [
  ['works', say.writebacks.itWorks],
  ['does-not', say.writebacks.itDoesNot],
  ['not-tried', say.writebacks.itWillNotBe],
] as const;

/** Asked for until somebody says. */
export function Trial({ row }: { row: WritebackRow }) {
  const [note, setNote] = useState(row.outcomeNote);
  const [again, setAgain] = useState(false);
  const tell = useMutation({
    mutationFn: (outcome: string) => post(`/api/writebacks/${row.id}`, { outcome, note }),
    onSuccess: () => setAgain(false),
  });
  if (row.outcome && !again) {
    return <TrialSaid row={row} setAgain={setAgain} />;
  }
  return (
    <div
      className="mt-2 flex flex-wrap items-end gap-2 border-t border-line pt-2 text-[13px]"
      data-testid="trial"
    >
      <label className="min-w-64 flex-1 text-ink-2">
        {say.writebacks.howDidItDo}
        <input
          value={note}
          onChange={(event) => setNote(event.target.value)}
          maxLength={2000}
          placeholder={say.writebacks.whichMachineWhatIt}
          className="mt-0.5 block w-full border border-line bg-ground px-2 py-1 text-ink"
        />
      </label>
      {TRIALS.map(([outcome, words]) => (
        <button
          key={outcome}
          type="button"
          disabled={tell.isPending}
          onClick={() => tell.mutate(outcome)}
          className="min-h-8 rounded-sm border border-line bg-sheet px-3 font-[650]"
        >
          {words}
        </button>
      ))}
      <ErrorAlert>{tell.error?.message}</ErrorAlert>
    </div>
  );
}

function TrialSaid({
  row,
  setAgain,
}: {
  row: WritebackRow;
  setAgain: Dispatch<SetStateAction<boolean>>;
}) {
  return (
    <p className="mt-2 text-[13px]" data-testid="trial">
      <b>{TRIALS.find(([outcome]) => outcome === row.outcome)![1]}</b>
      {row.outcomeNote && `: ${row.outcomeNote}`}{' '}
      <button type="button" onClick={() => setAgain(true)} className="ml-2 text-oxide underline">
        {say.writebacks.sayItAnew}
      </button>
    </p>
  );
}
