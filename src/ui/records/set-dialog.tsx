'use client';
/** A set: what it is called, and how many media it should have. */
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation } from '@tanstack/react-query';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { say } from '@/messages';
import { SetChange } from '@/server/features/media/new-medium';
import { post } from '../data/api';
import { Dialog } from '../parts/dialog';
import { FormFoot } from '../parts/form-foot';
import { numberOrNone } from '../parts/number-or-none';
import { TextField } from '../parts/fields/text-field';

interface Named {
  name: string;
  members: number | null;
}
type Fields = z.input<typeof SetChange>;

interface SetDialogProps {
  set: Named | null;
  /** Told by the name that it has then. */
  onKept: (name: string) => void;
  onClose: () => void;
}

export function SetDialog({ set, onKept, onClose }: SetDialogProps) {
  return (
    <Dialog
      open={set !== null}
      onOpenChange={(open) => !open && onClose()}
      title={set?.name ?? ''}
      about={say.descriptions.aboutSet}
    >
      {set && <SetForm set={set} onKept={onKept} onDone={onClose} />}
    </Dialog>
  );
}

interface SetFormProps {
  set: Named;
  onKept: SetDialogProps['onKept'];
  onDone: () => void;
}

function SetForm({ set: { name, members }, onKept, onDone }: SetFormProps) {
  const {
    register,
    handleSubmit,
    formState: { errors },
  } = useForm<Fields, unknown, z.output<typeof SetChange>>({
    resolver: zodResolver(SetChange),
    defaultValues: { name, members },
  });
  const store = useMutation({
    mutationFn: (change: Fields) => post(`/api/sets/${encodeURIComponent(name)}`, change),
    onSuccess: (_, change) => {
      onDone();
      onKept(change.name ?? name);
    },
  });
  return (
    <form
      noValidate
      onSubmit={handleSubmit((change) => store.mutate(change))}
      className="grid grid-cols-2 gap-3"
    >
      <TextField
        label={say.descriptions.whatItIsCalled}
        input={register('name')}
        error={errors.name?.message}
      />
      <TextField
        label={say.descriptions.howManyMembers}
        type="number"
        input={register('members', { setValueAs: numberOrNone })}
        error={errors.members?.message}
      />
      <FormFoot trouble={store.error?.message} isBusy={store.isPending} onLeave={onDone}>
        {say.descriptions.keepDescription}
      </FormFoot>
    </form>
  );
}
