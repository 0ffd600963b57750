'use client';
/** A receipt: what happens to which media, on what day, in whose hands; then the paper to sign. */
import { useMutation } from '@tanstack/react-query';
import { useForm, useWatch, type UseFormRegisterReturn } from 'react-hook-form';
import type { z } from 'zod';
import { dayOf } from '@/core/description/day';
import { say } from '@/messages';
import { NewReceipt } from '@/server/features/receipts/new-receipt';
import type { ReceiptKind } from '@/server/states';
import { post } from '../data/api';
import { FormFoot } from '../parts/form-foot';
import { field } from '../parts/field-look';
import { TextArea } from '../parts/fields/text-area';
import { TextField } from '../parts/fields/text-field';

type Receipt = z.output<typeof NewReceipt>;

/** As it is filled in: `codes` names some of a lot or a set, one a line. */
interface Fields {
  kind: ReceiptKind;
  day: string;
  person: string;
  backBy: string;
  notes: string;
  codes: string;
}

export interface ReceiptChoiceProps {
  of: Receipt['of'];
  /** What can have happened to them; the first is what is proposed. */
  kinds: readonly ReceiptKind[];
  /** How many of those that would go were not read. */
  unread?: number;
}

interface ReceiptFormProps extends ReceiptChoiceProps {
  onMade: (id: number) => void;
  onLeave: () => void;
}

const linesOf = (text: string): string[] => text.split(/[\n;]+/).map((line) => line.trim());

/** Those that are named, or all. */
function chosen(of: Receipt['of'], codes: string): Receipt['of'] {
  const named = linesOf(codes).filter((code) => code !== '');
  return named.length > 0 ? { codes: named } : of;
}

function useReceiptForm({ of, kinds, onMade }: ReceiptFormProps) {
  const form = useForm<Fields>({
    defaultValues: {
      ...{ kind: kinds[0]!, day: dayOf(new Date()), person: '' },
      ...{ backBy: '', notes: '', codes: '' },
    },
  });
  const make = useMutation({
    mutationFn: (receipt: Receipt) => post<{ id: number }>('/api/receipts', receipt),
    onSuccess: ({ id }) => onMade(id),
  });
  const send = form.handleSubmit(({ codes, ...filled }) => {
    const backBy = filled.kind === 'sent-out' ? filled.backBy : '';
    const read = NewReceipt.safeParse({ ...filled, backBy, of: chosen(of, codes) });
    if (read.success) return make.mutate(read.data);
    for (const { path, message } of read.error.issues)
      form.setError(path[0] === 'of' ? 'codes' : (path[0] as keyof Fields), { message });
  });
  return { ...form, make, send };
}

export function ReceiptForm(props: ReceiptFormProps) {
  const { of, kinds, unread = 0, onLeave } = props;
  const { register, control, make, send, formState } = useReceiptForm(props);
  const { errors } = formState;
  const kind = useWatch({ control, name: 'kind' });
  const isGoing = kind === 'handed-back' || kind === 'sent-out';
  return (
    <form noValidate className="grid grid-cols-2 gap-3" onSubmit={send}>
      <KindChoice kinds={kinds} input={register('kind')} />
      <TextField
        label={say.receipts.day}
        type="date"
        input={register('day')}
        error={errors.day?.message}
      />
      <TextField
        wide={kind !== 'sent-out'}
        label={say.receipts.persons[kind]}
        input={register('person')}
        error={errors.person?.message}
      />
      {kind === 'sent-out' && (
        <TextField
          label={say.receipts.backBy}
          type="date"
          input={register('backBy')}
          error={errors.backBy?.message}
        />
      )}
      {!('codes' in of) && (
        <TextArea
          label={say.receipts.onlyThese}
          input={register('codes')}
          error={errors.codes?.message}
          rows={3}
          className="col-span-2"
        />
      )}
      <TextArea
        label={say.receipts.notes}
        input={register('notes')}
        error={errors.notes?.message}
        rows={2}
        className="col-span-2"
      />
      {isGoing && unread > 0 && (
        <p className="col-span-2 text-[14px] font-[650]">{say.receipts.unreadGo({ unread })}</p>
      )}
      <FormFoot trouble={make.error?.message} isBusy={make.isPending} onLeave={onLeave}>
        {say.receipts.give}
      </FormFoot>
    </form>
  );
}

interface KindChoiceProps {
  kinds: readonly ReceiptKind[];
  input: UseFormRegisterReturn;
}

const KindChoice = ({ kinds, input }: KindChoiceProps) => (
  <label className="text-[13px] text-ink-2">
    {say.receipts.what}
    <select {...input} className={field}>
      {kinds.map((each) => (
        <option key={each} value={each}>
          {say.receipts.choices[each]}
        </option>
      ))}
    </select>
  </label>
);
