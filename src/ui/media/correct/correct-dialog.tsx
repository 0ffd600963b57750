'use client';
/** Everything that is registered of one medium, to be corrected: only what is changed is sent. */
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { useForm, type UseFormRegister, type UseFormSetFocus } from 'react-hook-form';
import type { z } from 'zod';
import { RECORDED_SIDES } from '@/core/condition';
import { say } from '@/messages';
import { SIDE_WORDS } from '@/messages/names';
import { MediumCorrection } from '@/server/features/media/new-medium';
import { ApiError, post } from '../../data/api';
import type { DocketData } from '../../data/queries';
import { Dialog } from '../../parts/dialog';
import { field as look } from '../../parts/field-look';
import { FormChoice } from '../form-choice';
import { FormFoot } from '../../parts/form-foot';
import { numberOrNone } from '../../parts/number-or-none';
import { TextField } from '../../parts/fields/text-field';
import { docketPage } from '../../data/addresses';

const Facts = MediumCorrection.pick({
  code: true,
  form: true,
  title: true,
  labelText: true,
  lender: true,
  lot: true,
  setName: true,
  setNumber: true,
  condition: true,
  machine: true,
  shelf: true,
  recordedSide: true,
  writeProtected: true,
  treatFirst: true,
  isBlank: true,
});
type Facts = z.input<typeof Facts>;
type Medium = DocketData['medium'];

interface CorrectDialogProps {
  medium: Medium;
  open: boolean;
  /** The name of the one that has the focus; the first where it is none. */
  field?: string | null;
  onClose: () => void;
}

export function CorrectDialog({ medium, open, field = null, onClose }: CorrectDialogProps) {
  return (
    <Dialog
      open={open}
      onOpenChange={(isOpen) => !isOpen && onClose()}
      title={`${medium.code} · ${say.correct.correctIt}`}
      about={say.correct.aboutOne}
    >
      {open && <CorrectForm medium={medium} field={field} onDone={onClose} />}
    </Dialog>
  );
}

const KEYS = Object.keys(Facts.shape) as (keyof Facts)[];

/** What was changed of what is registered. */
function changed(medium: Medium, facts: Facts): Facts {
  const different = KEYS.filter((key) => facts[key] !== medium[key]);
  return Object.fromEntries(different.map((key) => [key, facts[key]]));
}

function useFocusOn(field: string | null, setFocus: UseFormSetFocus<Facts>): void {
  useEffect(() => {
    const wanted = KEYS.find((key) => key === field);
    // The dialog has given the focus to its first field by then.
    if (wanted) requestAnimationFrame(() => setFocus(wanted, { shouldSelect: true }));
  }, [field, setFocus]);
}

const TEXTS = [
  ['code', say.media.code],
  ['title', say.media.whatItIs],
  ['labelText', say.media.whatTheLabelSays],
  ['lender', say.media.lender],
  ['lot', say.media.lot],
  ['condition', say.media.condition],
  ['machine', say.media.machine],
  ['shelf', say.receipts.shelf],
  ['setName', say.media.set],
] as const;

interface CorrectFormProps {
  medium: Medium;
  field: string | null;
  onDone: () => void;
}

function CorrectForm({ medium: now, field, onDone }: CorrectFormProps) {
  // What somebody else changes meanwhile was not changed here.
  const [medium] = useState(now);
  const router = useRouter();
  const {
    register,
    handleSubmit,
    setError,
    setFocus,
    formState: { errors },
  } = useForm<Facts, unknown, z.output<typeof Facts>>({
    resolver: zodResolver(Facts),
    defaultValues: Object.fromEntries(KEYS.map((key) => [key, medium[key]])) as Facts,
  });
  useFocusOn(field, setFocus);
  const store = useMutation({
    mutationFn: (facts: Facts) => post(`/api/media/${encodeURIComponent(medium.code)}`, facts),
    onSuccess: (_, { code }) => {
      onDone();
      if (code) router.replace(docketPage(code));
    },
    onError: (error) => {
      if (!(error instanceof ApiError)) return;
      for (const [name, message] of Object.entries(error.fields))
        setError(name as keyof Facts, { message });
    },
  });
  return (
    <form
      noValidate
      className="grid grid-cols-2 gap-3"
      onSubmit={handleSubmit((facts) => {
        const change = changed(medium, facts);
        return Object.keys(change).length === 0 ? onDone() : store.mutate(change);
      })}
    >
      {TEXTS.map(([name, label]) => (
        <TextField key={name} label={label} input={register(name)} error={errors[name]?.message} />
      ))}
      <TextField
        label={say.correct.placeInSet}
        type="number"
        input={register('setNumber', { setValueAs: numberOrNone })}
        error={errors.setNumber?.message}
      />
      <Choices register={register} />
      <FormFoot trouble={store.error?.message} isBusy={store.isPending} onLeave={onDone}>
        {say.correct.keepIt}
      </FormFoot>
    </form>
  );
}

function Choices({ register }: { register: UseFormRegister<Facts> }) {
  const checks = [
    ['writeProtected', say.correct.isWriteProtected],
    ['treatFirst', say.correct.isTreatedFirst],
    ['isBlank', say.correct.isBlank],
  ] as const;
  return (
    <>
      <FormChoice input={register('form')} />
      <label className="text-[13px] text-ink-2">
        {say.correct.recordedSide}
        <select {...register('recordedSide')} className={look}>
          {RECORDED_SIDES.map((side) => (
            <option key={side} value={side}>
              {SIDE_WORDS[side]}
            </option>
          ))}
        </select>
      </label>
      <div className="col-span-2 flex flex-wrap gap-x-5 gap-y-1">
        {checks.map(([name, label]) => (
          <label key={name} className="flex items-center gap-2 text-[14px]">
            <input type="checkbox" {...register(name)} className="size-4" />
            {label}
          </label>
        ))}
      </div>
    </>
  );
}
