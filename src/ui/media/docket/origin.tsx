'use client';
/**
 * Where a hard disk came from: the machine it was in, its jumpers, notes; what nobody remembers a
 * year later.
 */
import { FormFoot } from '../../parts/form-foot';
import { useMutation, UseMutationResult } from '@tanstack/react-query';
import { Dispatch, SetStateAction, useState, type FormEvent } from 'react';
import { post } from '@/ui/data/api';
import type { DocketData } from '@/ui/data/queries';
import { say } from '@/messages';

const FIELDS = [
  ['machine', say.docket.theMachineItWas],
  ['jumpers', say.docket.howItWasSet],
  ['notes', say.docket.notes],
] as const;
type Origin = NonNullable<DocketData['medium']['origin']> & { machine: string };
const NOTHING: Origin = { machine: '', jumpers: '', notes: '' };

export function Origin({ medium }: { medium: DocketData['medium'] }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState(NOTHING);
  const keep = useMutation({
    mutationFn: () => {
      const { machine, ...origin } = typed;
      return post(`/api/media/${encodeURIComponent(medium.code)}`, { machine, origin });
    },
    onSuccess: () => setOpen(false),
  });
  const { machine } = medium;
  const isNoted = machine !== '' || medium.origin !== null;
  const noted = { ...NOTHING, ...medium.origin, machine };
  const begin = () => {
    setTyped(noted);
    setOpen(true);
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    keep.mutate();
  };
  return (
    <div className="mt-2 text-[13px]" data-testid="origin">
      {isNoted ? (
        <OriginLine origin={noted} />
      ) : (
        <p className="text-ink-2">{say.docket.whichMachineItWas}</p>
      )}
      {!open && (
        <button type="button" onClick={begin} className="mt-1 text-oxide underline">
          {say.docket.noteWhereItCame}
        </button>
      )}
      {open && (
        <OriginForm
          submit={submit}
          typed={typed}
          setTyped={setTyped}
          keep={keep}
          setOpen={setOpen}
        />
      )}
    </div>
  );
}

interface OriginFormProps {
  submit: (event: FormEvent) => void;
  typed: Origin;
  setTyped: Dispatch<SetStateAction<Origin>>;
  keep: UseMutationResult<unknown, Error, void, unknown>;
  setOpen: Dispatch<SetStateAction<boolean>>;
}

function OriginLine({ origin }: { origin: Origin }) {
  return (
    <p>
      {say.docket.outOf} <b>{origin.machine || say.docket.aMachineNotKnown}</b>
      {origin.jumpers && (
        <>
          {say.docket.setAs} <b>{origin.jumpers}</b>
        </>
      )}
      {origin.notes && `; ${origin.notes}`}.
    </p>
  );
}

function OriginForm({ submit, typed, setTyped, keep, setOpen }: OriginFormProps) {
  return (
    <form onSubmit={submit} className="mt-2 grid max-w-[620px] grid-cols-2 gap-3">
      {FIELDS.map(([name, label]) => (
        <label key={name} className={`text-ink-2 ${name === 'notes' ? 'col-span-2' : ''}`}>
          {label}
          <input
            name={name}
            value={typed[name]}
            onChange={({ target }) => setTyped((was) => ({ ...was, [name]: target.value }))}
            autoComplete="off"
            className="mt-0.5 block w-full border border-line bg-sheet px-2 py-1.5 text-[15px] text-ink"
          />
        </label>
      ))}
      <FormFoot
        trouble={keep.error?.message}
        isBusy={keep.isPending}
        onLeave={() => setOpen(false)}
      >
        {say.docket.keepIt}
      </FormFoot>
    </form>
  );
}
