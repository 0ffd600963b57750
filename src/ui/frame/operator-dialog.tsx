'use client';
/** Who is at work: a name, no password; the application answers on this computer only. */
import { useMutation, UseMutationResult, useQueryClient } from '@tanstack/react-query';
import { Dispatch, SetStateAction, useState, type FormEvent } from 'react';
import { post } from '../data/api';
import { operatorsQuery } from '../data/queries';
import { Button } from '../parts/button';
import { Dialog } from '../parts/dialog';
import { ErrorAlert } from '../parts/page';
import { RecipientForm } from '../rights/recipient-form';
import { say } from '@/messages';

interface OperatorDialogProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  names: readonly string[];
  current: string | null;
  /** For whom things are taken out; empty for nobody else. */
  recipient: string;
}

export function OperatorDialog({
  open,
  onOpenChange,
  names,
  current,
  recipient,
}: OperatorDialogProps) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const choose = useMutation({
    mutationFn: (chosen: string) => post('/api/operators', { name: chosen }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: operatorsQuery.queryKey });
      onOpenChange(false);
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    choose.mutate(name);
  };
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title={say.frame.whoIsAtWork}
      about={say.frame.everythingInTheLedger}
    >
      <NameChoice names={names} current={current} choose={choose} />
      <NameForm submit={submit} name={name} setName={setName} />
      <ErrorAlert>{choose.error?.message}</ErrorAlert>
      {current !== null && (
        <RecipientForm recipient={recipient} onDone={() => onOpenChange(false)} />
      )}
    </Dialog>
  );
}

function NameChoice({
  names,
  current,
  choose,
}: {
  names: readonly string[];
  current: string | null;
  choose: UseMutationResult<unknown, Error, string, unknown>;
}) {
  return (
    <div className="mb-4 flex flex-wrap gap-2">
      {names.map((each) => (
        <Button
          key={each}
          tone={each === current ? 'primary' : 'plain'}
          onClick={() => choose.mutate(each)}
        >
          {each}
        </Button>
      ))}
    </div>
  );
}

interface NameFormProps {
  submit: (event: FormEvent) => void;
  name: string;
  setName: Dispatch<SetStateAction<string>>;
}

function NameForm({ submit, name, setName }: NameFormProps) {
  return (
    <form onSubmit={submit} className="flex items-end gap-2">
      <label className="flex-1 text-[13px] text-ink-2">
        {say.frame.anotherName}
        <input
          value={name}
          onChange={(event) => setName(event.target.value)}
          maxLength={80}
          autoComplete="off"
          className="mt-1 block w-full border border-line bg-sheet px-2 py-1.5 text-[15px] text-ink"
        />
      </label>
      <button
        type="submit"
        className="min-h-9 rounded-sm border border-line bg-sheet px-3 font-[650]"
      >
        {say.frame.atWorkNow}
      </button>
    </form>
  );
}
