'use client';
/** A lender or a machine: what it is called, and what is known of it. */
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { say } from '@/messages';
import { NAMED_FACTS, NamedChange } from '@/server/features/media/new-medium';
import { post } from '../../data/api';
import type { NamedPage } from '../../data/queries';
import { Dialog } from '../../parts/dialog';
import { FormFoot } from '../../parts/form-foot';
import { TextField } from '../../parts/fields/text-field';

type Fields = z.input<typeof NamedChange>;
type Kind = NamedPage['kind'];
type Named = NamedPage['record'];

interface NamedDialogProps {
  kind: Kind;
  record: Named | null;
  /** Told by the name that it has then. */
  onKept: (name: string) => void;
  onClose: () => void;
}

export function NamedDialog({ kind, record, onKept, onClose }: NamedDialogProps) {
  return (
    <Dialog
      open={record !== null}
      onOpenChange={(open) => !open && onClose()}
      title={record?.name ?? ''}
      about={say.named.about[kind]}
    >
      {record && <NamedForm kind={kind} record={record} onKept={onKept} onDone={onClose} />}
    </Dialog>
  );
}

interface NamedFormProps {
  kind: Kind;
  record: Named;
  onKept: NamedDialogProps['onKept'];
  onDone: () => void;
}

function NamedForm({ kind, record: now, onKept, onDone }: NamedFormProps) {
  // What somebody else changes meanwhile was not changed here.
  const [record] = useState(now);
  const names = ['name', ...NAMED_FACTS[kind]] as const;
  const {
    register,
    handleSubmit,
    formState: { errors },
  } = useForm<Fields, unknown, z.output<typeof NamedChange>>({
    resolver: zodResolver(NamedChange),
    defaultValues: Object.fromEntries(names.map((fact) => [fact, record[fact]])),
  });
  const store = useMutation({
    mutationFn: (facts: Fields) => {
      const changed = names.filter((fact) => facts[fact] !== record[fact]);
      const change = Object.fromEntries(changed.map((fact) => [fact, facts[fact]]));
      return post(`/api/named/${kind}/${encodeURIComponent(record.name)}`, change);
    },
    onSuccess: (_, { name = record.name }) => {
      onDone();
      onKept(name);
    },
  });
  return (
    <form
      noValidate
      onSubmit={handleSubmit((facts) => store.mutate(facts))}
      className="grid grid-cols-2 gap-3"
    >
      {names.map((fact) => (
        <TextField
          key={fact}
          wide={fact === 'notes' || fact === 'contact'}
          label={say.named.facts[fact]}
          input={register(fact)}
          error={errors[fact]?.message}
        />
      ))}
      <FormFoot trouble={store.error?.message} isBusy={store.isPending} onLeave={onDone}>
        {say.descriptions.keepDescription}
      </FormFoot>
    </form>
  );
}
