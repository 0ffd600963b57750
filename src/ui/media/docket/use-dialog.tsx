'use client';
/** A medium is withdrawn, reinstated, or found to be another that is registered as well. */
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { useForm, useWatch, type Control, type UseFormRegister } from 'react-hook-form';
import type { z } from 'zod';
import { isMediumCode, normalizeCode } from '@/core/medium-code';
import { UseChange } from '@/server/features/media/new-medium';
import { say } from '@/messages';
import { docketPage } from '../../data/addresses';
import { ApiError, post } from '../../data/api';
import { mediaFactsQuery, type DocketData } from '../../data/queries';
import { Dialog } from '../../parts/dialog';
import { FormFoot } from '../../parts/form-foot';
import { Button } from '../../parts/button';
import { when } from '../../parts/page';
import { TextField } from '../../parts/fields/text-field';

type Medium = DocketData['medium'];
type Fields = z.input<typeof UseChange>;
type Action = Fields['action'];

interface UseFormProps {
  medium: Medium;
  actions: readonly Action[];
  onDone: () => void;
}

/** What will come of it, said before it is done. */
const MEANS: Record<Action, string> = {
  withdraw: say.withdrawal.leavesTheLists,
  merge: say.withdrawal.becomesOne,
  reinstate: say.withdrawal.comesBack,
};

/** Which medium the code that was typed stands for: seen before the two become one. */
function TheOther({ control }: { control: Control<Fields> }) {
  const typed = useWatch({ control, name: 'into' }) as string | undefined;
  const code = normalizeCode(typed ?? '');
  const { data } = useQuery({ ...mediaFactsQuery(code), enabled: isMediumCode(code) });
  const other = data?.media.find((each) => each.code === code);
  if (!other) return null;
  const { title, lender, lot } = other;
  return (
    <p data-testid="the-other" className="col-span-2 text-[13px]">
      <b className="font-mono">{code}</b> {[title, lender, lot].filter(Boolean).join(' · ')}
    </p>
  );
}

interface ActionChoiceProps {
  actions: readonly Action[];
  register: UseFormRegister<Fields>;
}

function ActionChoice({ actions, register }: ActionChoiceProps) {
  return (
    <fieldset className="col-span-2 flex gap-5 text-[14px]">
      {actions.map((action) => (
        <label key={action} className="flex items-center gap-2">
          <input type="radio" value={action} {...register('action')} />
          {say.withdrawal.actions[action]}
        </label>
      ))}
    </fieldset>
  );
}

function UseForm({ medium, actions, onDone }: UseFormProps) {
  const router = useRouter();
  const {
    register,
    control,
    handleSubmit,
    setError,
    formState: { errors },
  } = useForm<Fields, unknown, z.output<typeof UseChange>>({
    resolver: zodResolver(UseChange),
    defaultValues: { action: actions[0]!, reason: '', into: '' },
  });
  const action = useWatch({ control, name: 'action' });
  const isMerging = action === 'merge';
  const send = useMutation({
    mutationFn: (change: z.output<typeof UseChange>) =>
      post<{ code: string }>(`/api/media/${encodeURIComponent(medium.code)}/use`, change),
    onSuccess: ({ code }) => {
      onDone();
      if (code !== medium.code) router.push(docketPage(code));
    },
    onError: (error) => {
      if (!(error instanceof ApiError)) return;
      for (const [name, message] of Object.entries(error.fields))
        setError(name as keyof Fields, { message });
    },
  });
  const wrong = errors as Partial<Record<'reason' | 'into', { message?: string }>>;
  return (
    <form
      noValidate
      className="grid grid-cols-2 gap-3"
      onSubmit={handleSubmit((change) => send.mutate(change))}
    >
      {actions.length > 1 && <ActionChoice actions={actions} register={register} />}
      <p className="col-span-2 text-[13px] text-ink-2">{MEANS[action]}</p>
      {isMerging && (
        <TextField
          wide
          label={say.withdrawal.codeOfTheOther}
          input={register('into')}
          error={wrong.into?.message}
        />
      )}
      {isMerging && <TheOther control={control} />}
      <TextField
        wide
        label={say.withdrawal.why}
        input={register('reason')}
        error={wrong.reason?.message}
      />
      <FormFoot trouble={send.error?.message} isBusy={send.isPending} onLeave={onDone}>
        {say.withdrawal.doIt[action]}
      </FormFoot>
    </form>
  );
}

interface UseDialogProps extends UseFormProps {
  open: boolean;
  title: string;
}

function UseDialog({ open, title, ...form }: UseDialogProps) {
  return (
    <Dialog
      open={open}
      onOpenChange={(stays) => !stays && form.onDone()}
      title={`${form.medium.code} · ${title}`}
      about={form.medium.title}
    >
      {open && <UseForm {...form} />}
    </Dialog>
  );
}

/** The way out of the working lists, of what is in use. */
export function WithdrawLink({ medium }: { medium: Medium }) {
  const [isOpen, setIsOpen] = useState(false);
  if (medium.withdrawnAt !== null) return null;
  return (
    <>
      {' · '}
      <button type="button" onClick={() => setIsOpen(true)} className="text-oxide underline">
        {say.withdrawal.withdrawOrMerge}
      </button>
      <UseDialog
        open={isOpen}
        medium={medium}
        actions={medium.isBlank || medium.isReference ? ['withdraw'] : ['withdraw', 'merge']}
        title={say.withdrawal.withdrawOrMerge}
        onDone={() => setIsOpen(false)}
      />
    </>
  );
}

/** That it was withdrawn, when and why, and the way back. */
export function WithdrawnNote({ medium }: { medium: Medium }) {
  const [isOpen, setIsOpen] = useState(false);
  const { withdrawnAt, withdrawnReason } = medium;
  if (withdrawnAt === null) return null;
  return (
    <div
      data-testid="withdrawn"
      className="mb-5 flex items-baseline gap-4 border-l-[7px] border-ink-3 bg-sheet px-4 py-3"
    >
      <p className="flex-1">
        <b>{say.withdrawal.withdrawnOn({ day: when(withdrawnAt) })}</b> {withdrawnReason}
        <span className="block text-[13px] text-ink-2">{say.withdrawal.isInNoList}</span>
      </p>
      <Button onClick={() => setIsOpen(true)}>{say.withdrawal.reinstate}</Button>
      <UseDialog
        open={isOpen}
        medium={medium}
        actions={['reinstate']}
        title={say.withdrawal.reinstate}
        onDone={() => setIsOpen(false)}
      />
    </div>
  );
}
