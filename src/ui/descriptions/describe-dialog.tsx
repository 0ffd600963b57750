'use client';
/** What is said of a medium, a set or a lot, to be typed: only what is changed is sent. */
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import {
  useForm,
  useWatch,
  type FieldErrors,
  type UseFormRegister,
  type UseFormSetError,
} from 'react-hook-form';
import { ACQUISITION_WAYS, type Acquisition } from '@/core/description/acquisition';
import { DCMI_TYPES } from '@/core/description/dcmi-types';
import { ELEMENTS, type ElementName } from '@/core/description/elements';
import { say } from '@/messages';
import { DescriptionChange } from '@/server/features/descriptions/new-description';
import type { OwnerKind } from '@/server/features/media/owners';
import { ApiError, post } from '../data/api';
import type { DocketData } from '../data/queries';
import { Dialog } from '../parts/dialog';
import { field as look } from '../parts/field-look';
import { FormFoot } from '../parts/form-foot';
import { numberOrNone } from '../parts/number-or-none';
import { TextArea } from '../parts/fields/text-area';
import { TextField } from '../parts/fields/text-field';
import { changeOf, isProse, typedFrom, type TypedDescription } from './typed-description';

export type Description = DocketData['description'];
export type OwnPaper = Pick<DocketData['papers'][number], 'id' | 'name'>;

interface Described {
  kind: OwnerKind;
  /** A code, or the name of a set or a lot. */
  name: string;
  description: Description;
  /** What lies beside it, and beside it alone. */
  papers: readonly OwnPaper[];
}

interface DescribeDialogProps extends Described {
  open: boolean;
  onClose: () => void;
}

export function DescribeDialog({ open, onClose, ...described }: DescribeDialogProps) {
  return (
    <Dialog
      open={open}
      onOpenChange={(isOpen) => !isOpen && onClose()}
      title={`${described.name} · ${say.descriptions.describeIt}`}
      about={say.descriptions.about}
      wide
    >
      {open && <DescribeForm {...described} onDone={onClose} />}
    </Dialog>
  );
}

type FormErrors = FieldErrors<TypedDescription>;
type FieldName = `elements.${ElementName}` | `acquisition.${keyof Acquisition}`;

/** What is wrong of a value stands at its element. */
const fieldOf = (path: readonly PropertyKey[]): FieldName =>
  path.slice(0, 2).map(String).join('.') as FieldName;

/** Null where it can't be sent: the fields say why. */
function checked(change: unknown, setError: UseFormSetError<TypedDescription>) {
  const found = DescriptionChange.safeParse(change);
  if (found.success) return found.data;
  for (const { path, message } of found.error.issues) setError(fieldOf(path), { message });
  return null;
}

function showRefusal(error: Error, setError: UseFormSetError<TypedDescription>): void {
  if (!(error instanceof ApiError)) return;
  for (const [name, message] of Object.entries(error.fields))
    setError(name === 'agreement' ? 'acquisition.agreement' : fieldOf(name.split('.')), {
      message,
    });
}

function DescribeForm({
  kind,
  name,
  description,
  papers,
  onDone,
}: Described & { onDone: () => void }) {
  // What somebody else says meanwhile was not changed here.
  const [was] = useState(description.own);
  const {
    register,
    handleSubmit,
    setError,
    control,
    formState: { errors },
  } = useForm<TypedDescription>({ defaultValues: typedFrom(was) });
  const store = useMutation({
    mutationFn: (change: unknown) =>
      post(`/api/descriptions/${kind}/${encodeURIComponent(name)}`, change),
    onSuccess: onDone,
    onError: (error) => showRefusal(error, setError),
  });
  const send = handleSubmit((typed) => {
    const change = checked(changeOf(was, typed), setError);
    if (!change) return;
    if (Object.keys(change).length === 0) return onDone();
    store.mutate(change);
  });
  const saysHow = useWatch({ control, name: 'saysHow' });
  const counting = new Map(description.elements.map((each) => [each.element, each.values]));
  return (
    <form noValidate onSubmit={send} className="grid grid-cols-2 gap-x-5 gap-y-3">
      {ELEMENTS.map((element) => (
        <TextArea
          key={element}
          label={say.descriptions.elements[element]}
          input={register(`elements.${element}`)}
          error={errors.elements?.[element]?.message}
          rows={isProse(element) ? 3 : 1}
          help={element === 'type' && DCMI_TYPES.join(', ')}
          placeholder={counting.get(element)?.join(' · ')}
          className={isProse(element) ? 'col-span-2' : ''}
        />
      ))}
      <AcquisitionFields register={register} errors={errors} saysHow={saysHow} papers={papers} />
      <FormFoot trouble={store.error?.message} isBusy={store.isPending} onLeave={onDone}>
        {say.descriptions.keepDescription}
      </FormFoot>
    </form>
  );
}

interface AcquisitionFieldsProps {
  register: UseFormRegister<TypedDescription>;
  errors: FormErrors;
  saysHow: boolean;
  papers: readonly OwnPaper[];
}

function AcquisitionFields({ register, errors, saysHow, papers }: AcquisitionFieldsProps) {
  return (
    <fieldset className="col-span-2 border-t border-line pt-3">
      <legend className="pr-3 text-[15px] font-[650]">{say.descriptions.howItCame}</legend>
      <label className="flex items-center gap-2 text-[14px]">
        <input type="checkbox" {...register('saysHow')} className="size-4" />
        {say.descriptions.sayHow}
      </label>
      {saysHow && (
        <div className="mt-2 grid grid-cols-4 gap-3">
          <TextField
            label={say.descriptions.fromWhom}
            input={register('acquisition.from')}
            error={errors.acquisition?.from?.message}
          />
          <TextField
            label={say.descriptions.when}
            input={register('acquisition.on')}
            error={errors.acquisition?.on?.message}
          />
          <HowChoice register={register} />
          <AgreementChoice register={register} errors={errors} papers={papers} />
          <TextArea
            label={say.descriptions.notes}
            input={register('acquisition.notes')}
            error={errors.acquisition?.notes?.message}
            rows={2}
            className="col-span-4"
          />
        </div>
      )}
    </fieldset>
  );
}

function HowChoice({ register }: Pick<AcquisitionFieldsProps, 'register'>) {
  return (
    <label className="text-[13px] text-ink-2">
      {say.descriptions.how}
      <select {...register('acquisition.how')} className={look}>
        {ACQUISITION_WAYS.map((way) => (
          <option key={way} value={way}>
            {say.descriptions.acquired[way]}
          </option>
        ))}
      </select>
    </label>
  );
}

function AgreementChoice({
  register,
  errors,
  papers,
}: Pick<AcquisitionFieldsProps, 'register' | 'errors' | 'papers'>) {
  return (
    <label className="text-[13px] text-ink-2">
      {say.descriptions.agreement}
      <select
        {...register('acquisition.agreement', { setValueAs: numberOrNone })}
        aria-invalid={Boolean(errors.acquisition?.agreement)}
        title={say.descriptions.agreementLies}
        className={look}
      >
        <option value="">{say.descriptions.noAgreement}</option>
        {papers.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}
