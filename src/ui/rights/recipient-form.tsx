'use client';
/** For whom things are taken out by who is at work here. */
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { say } from '@/messages';
import { post } from '../data/api';
import { operatorsQuery } from '../data/queries';
import { field } from '../parts/field-look';
import { ErrorAlert } from '../parts/page';

export function RecipientForm({ recipient, onDone }: { recipient: string; onDone: () => void }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState(recipient);
  const keep = useMutation({
    mutationFn: () => post('/api/recipient', { recipient: typed }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: operatorsQuery.queryKey });
      onDone();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    keep.mutate();
  };
  return (
    <form onSubmit={submit} className="mt-5 border-t border-line pt-3">
      <div className="flex items-end gap-2">
        <label className="flex-1 text-[13px] text-ink-2">
          {say.rights.forWhom}
          <input
            name="recipient"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            maxLength={200}
            autoComplete="off"
            aria-describedby="recipient-help"
            className={field}
          />
        </label>
        <button
          type="submit"
          className="min-h-9 rounded-sm border border-line bg-sheet px-3 font-[650]"
        >
          {say.rights.keepForWhom}
        </button>
      </div>
      <p id="recipient-help" className="text-[12px] text-ink-2">
        {say.rights.forWhomHelp}
      </p>
      <ErrorAlert>{keep.error?.message}</ErrorAlert>
    </form>
  );
}
