'use client';
/** Registers one medium; what was typed stays until it is stored. */
import { FormFoot } from '../parts/form-foot';
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation, UseMutationResult, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useForm, type UseFormReturn } from 'react-hook-form';
import type { z } from 'zod';
import { codeAt } from '@/core/medium-code';
import { DENSITIES } from '@/core/medium-form';
import { NewMedium } from '@/server/features/media/new-medium';
import { ApiError, post } from '../data/api';
import { nextCodeQuery } from '../data/queries';
import { Dialog } from '../parts/dialog';
import { field } from '../parts/field-look';
import { FormChoice } from './form-choice';
import { TextField } from '../parts/fields/text-field';
import { say } from '@/messages';

type Fields = z.input<typeof NewMedium>;
type RegisterFields = UseFormReturn<Fields, unknown, z.output<typeof NewMedium>>;

const KEPT_AS = 'spindle-register-one';

function keptFields(): Partial<Fields> {
  try {
    return JSON.parse(localStorage.getItem(KEPT_AS) ?? '{}') as Partial<Fields>;
  } catch {
    return {};
  }
}

interface RegisterDialogProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  nextCode: string;
}

export function RegisterDialog({ open, onOpenChange, nextCode }: RegisterDialogProps) {
  const {
    register,
    handleSubmit,
    reset,
    setError,
    setValue,
    getValues,
    subscribe,
    formState: { errors },
  } = useForm<Fields, unknown, z.output<typeof NewMedium>>({
    resolver: zodResolver(NewMedium),
    defaultValues: { form: '3.5', isBlank: false },
  });
  useKeptFields(open, getValues, setValue, nextCode, subscribe);
  const proposeCode = useCodeOfLot(getValues, setValue, nextCode);
  const store = useMutation({
    mutationFn: (medium: z.output<typeof NewMedium>) => post('/api/media', medium),
    onSuccess: () => {
      localStorage.removeItem(KEPT_AS);
      reset({ form: '3.5', isBlank: false });
      onOpenChange(false);
    },
    onError: (error) => {
      if (error instanceof ApiError)
        for (const [name, message] of Object.entries(error.fields))
          setError(name as keyof Fields, { message });
    },
  });
  const hasFieldError = Object.keys(errors).length > 0;
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title={say.media.registerAMedium}
      about={say.media.anIdentityBeforeAnything}
    >
      <RegisterForm
        handleSubmit={handleSubmit}
        store={store}
        register={register}
        proposeCode={proposeCode}
        errors={errors}
        hasFieldError={hasFieldError}
        onOpenChange={onOpenChange}
      />
    </Dialog>
  );
}

function useKeptFields(
  open: boolean,
  getValues: RegisterFields['getValues'],
  setValue: RegisterFields['setValue'],
  nextCode: string,
  subscribe: RegisterFields['subscribe'],
) {
  useEffect(() => {
    if (!open) return;
    // What was typed before a reload comes back.
    const kept = keptFields();
    if (!getValues('title') && kept.title)
      for (const [name, value] of Object.entries(kept)) setValue(name as keyof Fields, value);
    if (!getValues('code')) setValue('code', nextCode);
    return subscribe({
      formState: { values: true },
      callback: ({ values }) => localStorage.setItem(KEPT_AS, JSON.stringify(values)),
    });
  }, [open, nextCode, getValues, setValue, subscribe]);
}

/** Called with a lot that was named: a code that was proposed and not typed over follows it. */
function useCodeOfLot(
  getValues: RegisterFields['getValues'],
  setValue: RegisterFields['setValue'],
  nextCode: string,
) {
  const queries = useQueryClient();
  const proposed = useRef<string | null>(null);
  return async (lot: string) => {
    // Where nobody answers, what stands there stays.
    const next = await queries.fetchQuery(nextCodeQuery(lot.trim())).catch(() => null);
    if (!next || ![nextCode, proposed.current].includes(getValues('code'))) return;
    proposed.current = codeAt(next.numbering, next.number);
    setValue('code', proposed.current);
  };
}

interface RegisterFormProps {
  handleSubmit: RegisterFields['handleSubmit'];
  store: UseMutationResult<unknown, Error, z.output<typeof NewMedium>>;
  register: RegisterFields['register'];
  proposeCode: (lot: string) => void;
  errors: RegisterFields['formState']['errors'];
  hasFieldError: boolean;
  onOpenChange: (open: boolean) => void;
}

function RegisterForm({
  handleSubmit,
  store,
  register,
  proposeCode,
  errors,
  hasFieldError,
  onOpenChange,
}: RegisterFormProps) {
  return (
    <form
      onSubmit={handleSubmit((medium) => store.mutate(medium))}
      noValidate
      className="grid grid-cols-2 gap-3"
    >
      <TextField label={say.media.code} input={register('code')} error={errors.code?.message} />
      <FormChoice input={register('form')} />
      <TextField
        wide
        label={say.media.whatItIs}
        input={register('title')}
        error={errors.title?.message}
      />
      <TextField
        wide
        label={say.media.whatTheLabelSaysAs}
        input={register('labelText')}
        error={errors.labelText?.message}
      />
      <TextField
        label={say.media.lender}
        input={register('lender')}
        error={errors.lender?.message}
      />
      <TextField
        label={say.media.lot}
        input={register('lot', { onBlur: ({ target }) => proposeCode(target.value) })}
        error={errors.lot?.message}
      />
      <TextField
        wide
        label={say.media.condition}
        input={register('condition')}
        error={errors.condition?.message}
      />
      <OfOurs register={register} />
      <FormFoot
        trouble={hasFieldError ? null : store.error?.message}
        isBusy={store.isPending}
        onLeave={() => onOpenChange(false)}
      >
        {say.media.register}
      </FormFoot>
    </form>
  );
}

/** What is the archive's own: blanks, and disks that drives are tested with. */
function OfOurs({ register }: Pick<RegisterFormProps, 'register'>) {
  return (
    <>
      <label className="col-span-2 flex items-center gap-2 text-[14px]">
        <input type="checkbox" {...register('isBlank')} className="size-4" />
        {say.media.aBlankOfOurs}
      </label>
      <DensityChoice register={register} />
      <label className="col-span-2 flex items-center gap-2 text-[14px]">
        <input type="checkbox" {...register('isReference')} className="size-4" />
        {say.media.aReferenceDiskOf}
      </label>
    </>
  );
}

function DensityChoice({ register }: { register: RegisterFormProps['register'] }) {
  return (
    <label className="col-span-2 text-[13px] text-ink-2">
      {say.media.ofABlankFloppy}
      <select
        {...register('density', { setValueAs: (value: string | null) => value || null })}
        className={field}
      >
        <option value="">{say.media.notKnown}</option>
        {DENSITIES.map((density) => (
          <option key={density} value={density}>
            {say.media.density({ density })}
          </option>
        ))}
      </select>
    </label>
  );
}
