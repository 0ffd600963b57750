'use client';
/** A lot: from whom it came, until when, and how its media are read. */
import { FormFoot } from '../parts/form-foot';
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation } from '@tanstack/react-query';
import { useForm, type FieldErrors, type UseFormRegister } from 'react-hook-form';
import type { z } from 'zod';
import { LotChange } from '@/server/features/media/new-medium';
import { post } from '../data/api';
import type { Arrivals } from '../data/queries';
import { Dialog } from '../parts/dialog';
import { TextField } from '../parts/fields/text-field';
import { say } from '@/messages';

export type Lot = Arrivals['lots'][number];
type Fields = z.input<typeof LotChange>;

interface LotDialogProps {
  lot: Lot | null;
  /** Told by the name that it has then. */
  onKept?: (name: string) => void;
  onClose: () => void;
}

export function LotDialog({ lot, onKept, onClose }: LotDialogProps) {
  return (
    <Dialog
      open={lot !== null}
      onOpenChange={(open) => !open && onClose()}
      title={lot?.name ?? ''}
      about={say.media.fromWhomItCame}
    >
      {lot && <LotForm lot={lot} onKept={onKept} onDone={onClose} />}
    </Dialog>
  );
}

interface LotFormProps {
  lot: Lot;
  onKept: LotDialogProps['onKept'];
  onDone: () => void;
}

function LotForm({ lot, onKept, onDone }: LotFormProps) {
  const { name, lender, cameIn, handBackBy, revolutions, tries, sweep, gentle, codePattern } = lot;
  const {
    register,
    handleSubmit,
    formState: { errors },
  } = useForm<Fields, unknown, z.output<typeof LotChange>>({
    resolver: zodResolver(LotChange),
    defaultValues: {
      ...{ name, lender, withMedia: true, cameIn, handBackBy },
      ...{ revolutions, tries, sweep, gentle, codePattern },
    },
  });
  const store = useMutation({
    mutationFn: (change: Fields) => post(`/api/lots/${encodeURIComponent(lot.name)}`, change),
    onSuccess: (_, change) => {
      onDone();
      onKept?.(change.name ?? lot.name);
    },
  });
  return (
    <form
      onSubmit={handleSubmit((change) => store.mutate(change))}
      noValidate
      className="grid grid-cols-2 gap-3"
    >
      <Whose register={register} errors={errors} />
      <Days register={register} errors={errors} />
      <TextField
        label={say.media.turnsOfAFirst}
        type="number"
        input={register('revolutions', { valueAsNumber: true })}
        error={errors.revolutions?.message}
      />
      <TextField
        label={say.media.mostReadingsOfOne}
        type="number"
        input={register('tries', { valueAsNumber: true })}
        error={errors.tries?.message}
      />
      <SweepChoice register={register} />
      <TextField
        label={say.media.patternOfCodes}
        input={register('codePattern')}
        error={errors.codePattern?.message}
      />
      <label className="flex items-center gap-2 self-end pb-2 text-[14px]">
        <input type="checkbox" {...register('gentle')} className="size-4" />
        {say.media.gentleNoSeeksBack}
      </label>
      <LotFoot store={store} onDone={onDone} />
    </form>
  );
}

interface WhoseProps {
  register: UseFormRegister<Fields>;
  errors: FieldErrors<Fields>;
}

/** What it is called, and from whom it came. */
function Whose({ register, errors }: WhoseProps) {
  return (
    <>
      <TextField label={say.media.lot} input={register('name')} error={errors.name?.message} />
      <TextField
        label={say.media.lender}
        input={register('lender')}
        error={errors.lender?.message}
      />
      <label className="col-span-2 flex items-center gap-2 text-[14px]">
        <input type="checkbox" {...register('withMedia')} className="size-4" />
        {say.media.itsMediaToo}
      </label>
    </>
  );
}

/** When it came in, and until when it may stay. */
function Days({ register, errors }: WhoseProps) {
  return (
    <>
      <TextField
        label={say.media.cameIn2}
        type="date"
        input={register('cameIn')}
        error={errors.cameIn?.message}
      />
      <TextField
        label={say.media.toBeHandedBackBy}
        type="date"
        input={register('handBackBy')}
        error={errors.handBackBy?.message}
      />
    </>
  );
}

function SweepChoice({ register }: { register: UseFormRegister<Fields> }) {
  return (
    <label className="text-[13px] text-ink-2">
      {say.media.order2}
      <select
        {...register('sweep')}
        className="mt-0.5 block w-full border border-line bg-sheet px-2 py-1.5 text-[15px] text-ink"
      >
        <option value="inward">{say.media.outermostToInnermost}</option>
        <option value="outward">{say.media.innermostToOutermost}</option>
      </select>
    </label>
  );
}

function LotFoot({
  store,
  onDone,
}: {
  store: { isPending: boolean; error: Error | null };
  onDone: () => void;
}) {
  return (
    <FormFoot trouble={store.error?.message} isBusy={store.isPending} onLeave={onDone}>
      {say.media.keep}
    </FormFoot>
  );
}
