'use client';
/** What may be done with a medium, a set or a lot, to be said. */
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm, useWatch, type FieldErrors, type UseFormRegister } from 'react-hook-form';
import { NO_RIGHTS_SAID, RIGHTS_STATEMENTS, type Rights } from '@/core/description/rights';
import { say } from '@/messages';
import type { OwnerKind } from '@/server/features/media/owners';
import { RightsChange } from '@/server/features/rights/new-rights';
import { post } from '../data/api';
import { CheckBox } from '../parts/fields/check-box';
import { Dialog } from '../parts/dialog';
import { field as look } from '../parts/field-look';
import { FormFoot } from '../parts/form-foot';
import { TextArea } from '../parts/fields/text-area';
import { TextField } from '../parts/fields/text-field';
import { OTHER, rightsFrom, typedFrom, type TypedRights } from './typed-rights';

interface RightsFormProps {
  kind: OwnerKind;
  name: string;
  own: Rights | null;
  onDone: () => void;
}

interface RightsDialogProps extends Omit<RightsFormProps, 'onDone'> {
  open: boolean;
  onClose: () => void;
}

export function RightsDialog({ open, onClose, ...form }: RightsDialogProps) {
  return (
    <Dialog
      open={open}
      onOpenChange={(isOpen) => !isOpen && onClose()}
      title={`${form.name} · ${say.rights.setRights}`}
      about={say.rights.about}
    >
      {open && <RightsForm {...form} onDone={onClose} />}
    </Dialog>
  );
}

function StatementChoice({ register }: { register: UseFormRegister<TypedRights> }) {
  return (
    <label className="col-span-2 text-[13px] text-ink-2">
      {say.rights.statement}
      <select {...register('chosen')} className={look}>
        <option value="">{say.rights.noStatement}</option>
        {RIGHTS_STATEMENTS.map((uri) => (
          <option key={uri} value={uri}>
            {say.rights.statements[uri]}
          </option>
        ))}
        <option value={OTHER}>{say.rights.anotherStatement}</option>
      </select>
    </label>
  );
}

interface RestrictionFieldsProps {
  register: UseFormRegister<TypedRights>;
  errors: FieldErrors<TypedRights>;
}

function RestrictionFields({ register, errors }: RestrictionFieldsProps) {
  return (
    <>
      <TextField label={say.rights.why} input={register('reason')} error={errors.reason?.message} />
      <TextField
        label={say.rights.opensOn}
        input={register('opensOn')}
        error={errors.opensOn?.message}
        type="date"
      />
    </>
  );
}

function RightsForm({ kind, name, own, onDone }: RightsFormProps) {
  // What somebody else says meanwhile is seen when this is opened again.
  const [was] = useState(own ?? NO_RIGHTS_SAID);
  const {
    register,
    handleSubmit,
    setError,
    control,
    formState: { errors },
  } = useForm<TypedRights>({ defaultValues: typedFrom(was) });
  const store = useMutation({
    mutationFn: (rights: Rights) => post(`/api/rights/${kind}/${encodeURIComponent(name)}`, rights),
    onSuccess: onDone,
  });
  const send = handleSubmit((typed) => {
    const { success, data, error } = RightsChange.safeParse(rightsFrom(typed));
    if (success) return store.mutate(data);
    for (const { path, message } of error.issues)
      setError(path.at(-1) as keyof TypedRights, { message });
  });
  const [chosen, isRestricted] = useWatch({ control, name: ['chosen', 'isRestricted'] });
  return (
    <form noValidate className="grid grid-cols-2 gap-3" onSubmit={send}>
      <StatementChoice register={register} />
      {chosen === OTHER && (
        <TextField
          wide
          label={say.rights.addressOfStatement}
          input={register('statement')}
          error={errors.statement?.message}
        />
      )}
      <TextArea
        label={say.rights.inWords}
        input={register('words')}
        error={errors.words?.message}
        rows={2}
        className="col-span-2"
      />
      <CheckBox input={register('isRestricted')} label={say.rights.restrictIt} />
      {isRestricted && <RestrictionFields register={register} errors={errors} />}
      <CheckBox
        input={register('isPersonal')}
        label={say.rights.personal}
        help={say.rights.personalHelp}
      />
      <FormFoot trouble={store.error?.message} isBusy={store.isPending} onLeave={onDone}>
        {say.rights.keepRights}
      </FormFoot>
    </form>
  );
}
