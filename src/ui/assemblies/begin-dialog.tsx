'use client';
/** Begins an assembly: from a blank volume, or from an image that is kept. */
import { FormFoot } from '../parts/form-foot';
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation, UseMutationResult } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { FieldErrors, useForm, UseFormRegister, useWatch } from 'react-hook-form';
import { BLANK_KINDS, type BlankKind } from '@/core/identify/blank-kinds';
import { ApiError, post } from '../data/api';
import { Dialog } from '../parts/dialog';
import { ImageSearch, type FoundImage } from '../writebacks/image-search';
import { field } from '../parts/field-look';
import { Beginning } from './beginning';
import { say } from '@/messages';
import { BLANK_NAMES } from '@/messages/names';

type Base = Pick<FoundImage, 'id' | 'code' | 'title'>;

interface BaseChoiceProps {
  chosen: Base | null;
  onChoose: (copy: Base | null) => void;
}

/** An image of the holdings to begin with, found by a few letters of it. */
function BaseChoice({ chosen, onChoose }: BaseChoiceProps) {
  if (chosen)
    return (
      <p className="col-span-2 flex items-center gap-3 border border-line bg-sheet px-3 py-2">
        <b className="font-mono">{chosen.code}</b> {chosen.title}
        <button
          type="button"
          onClick={() => onChoose(null)}
          className="ml-auto text-oxide underline"
        >
          {say.assemblies.aBlankVolumeInstead}
        </button>
      </p>
    );
  return (
    <div className="col-span-2">
      <ImageSearch label={say.assemblies.orBeginWithAn} onChoose={onChoose} />
    </div>
  );
}

interface BeginDialogProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
}

export function BeginDialog({ open, onOpenChange }: BeginDialogProps) {
  const router = useRouter();
  const [base, setBase] = useState<Base | null>(null);
  const {
    control,
    register,
    handleSubmit,
    setError,
    formState: { errors },
  } = useForm<Beginning>({
    resolver: zodResolver(Beginning),
    defaultValues: { title: '', kind: 'fat12-720', label: '' },
  });
  const begin = useMutation({
    mutationFn: ({ title, kind, label }: Beginning) =>
      post<{ id: number }>(
        '/api/assemblies',
        base ? { title, baseId: base.id } : { title, kind, label },
      ),
    onSuccess: ({ id }) => router.push(`/assembly/${id}`),
    onError: (error) => {
      if (error instanceof ApiError)
        for (const [name, message] of Object.entries(error.fields))
          setError(name as keyof Beginning, { message });
    },
  });
  const kind = useWatch({ control, name: 'kind' });
  const blank = BLANK_KINDS.find(({ id }) => id === kind);
  const said = Object.values(errors)
    .map((error) => error?.message)
    .filter(Boolean);
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title={say.assemblies.beginAnAssembly}
      about={say.assemblies.whatItBeginsWith}
    >
      <form
        onSubmit={handleSubmit((values) => begin.mutate(values))}
        noValidate
        className="grid grid-cols-2 gap-3"
      >
        <label className="col-span-2 text-[13px] text-ink-2">
          {say.assemblies.whatItIsFor}
          <input
            {...register('title')}
            autoComplete="off"
            aria-invalid={Boolean(errors.title)}
            className={field}
          />
        </label>
        {!base && <BlankFields register={register} blank={blank} errors={errors} />}
        <BaseChoice chosen={base} onChoose={setBase} />
        <BeginFoot said={said} begin={begin} onOpenChange={onOpenChange} />
      </form>
    </Dialog>
  );
}

interface BlankFieldsProps {
  register: UseFormRegister<{ title: string; kind: string; label: string }>;
  blank: BlankKind | undefined;
  errors: FieldErrors<{ title: string; kind: string; label: string }>;
}

function BlankFields({ register, blank, errors }: BlankFieldsProps) {
  return (
    <>
      <label className="text-[13px] text-ink-2">
        {say.assemblies.aBlankVolume}
        <select {...register('kind')} className={field}>
          {BLANK_KINDS.map(({ id, layout }) => (
            <option key={id} value={id}>
              {BLANK_NAMES[id]}
              {layout ? ` · ${layout}` : ''}
            </option>
          ))}
        </select>
      </label>
      <label className="text-[13px] text-ink-2">
        {blank && blank.mostLabel > 0
          ? say.assemblies.itsLabelCharactersAt({ mostLabel: blank.mostLabel })
          : say.assemblies.itHasNoLabel}
        <input
          {...register('label')}
          disabled={blank?.mostLabel === 0}
          maxLength={blank?.mostLabel}
          autoComplete="off"
          aria-invalid={Boolean(errors.label)}
          className={`${field} font-mono disabled:opacity-50`}
        />
      </label>
    </>
  );
}

function BeginFoot({
  said,
  begin,
  onOpenChange,
}: {
  said: (string | undefined)[];
  begin: UseMutationResult<
    { id: number },
    Error,
    { title: string; kind: string; label: string },
    unknown
  >;
  onOpenChange: (open: boolean) => void;
}) {
  return (
    <FormFoot
      trouble={said.length > 0 ? said.join(' ') : begin.error?.message}
      isBusy={begin.isPending}
      onLeave={() => onOpenChange(false)}
    >
      {say.assemblies.begin}
    </FormFoot>
  );
}
