'use client';
/** Asks from whom what is taken in comes, and in which lot; both may stay unsaid. */
import { useId, type FormEvent } from 'react';
import { say } from '@/messages';
import { isHeldWord } from '@/messages/names';
import type { Holdings } from '../../data/queries';
import { Dialog } from '../../parts/dialog';
import { field as look } from '../../parts/field-look';
import { FormFoot } from '../../parts/form-foot';
import type { AskedWhose } from './use-taking-in';
import { rememberedWhose } from './whose';

interface WhoseDialogProps {
  asked: AskedWhose | null;
  /** What is known already is offered. */
  facets: Holdings['facets'] | undefined;
}

export function WhoseDialog({ asked, facets }: WhoseDialogProps) {
  return (
    <Dialog
      open={asked !== null}
      onOpenChange={(open) => !open && asked?.leave()}
      title={say.holdings.whoseAreThey}
      about={say.holdings.saidOnce}
    >
      {asked && <WhoseForm asked={asked} facets={facets} />}
    </Dialog>
  );
}

const LONGEST = { lender: 200, lot: 80 };

function WhoseForm({ asked, facets }: WhoseDialogProps & { asked: AskedWhose }) {
  const was = rememberedWhose();
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const [lender, lot] = ['lender', 'lot'].map((name) => String(form.get(name) ?? '').trim());
    asked.go({ lender: lender!, lot: lot! });
  };
  return (
    <form onSubmit={submit} className="grid grid-cols-2 gap-3">
      <Offered name="lender" label={say.media.lender} was={was.lender} facets={facets} />
      <Offered name="lot" label={say.media.lot} was={was.lot} facets={facets} />
      <FormFoot trouble={null} isBusy={false} onLeave={asked.leave}>
        {say.holdings.goOn}
      </FormFoot>
    </form>
  );
}

interface OfferedProps {
  name: 'lender' | 'lot';
  label: string;
  was: string;
  facets: WhoseDialogProps['facets'];
}

function Offered({ name, label, was, facets }: OfferedProps) {
  const list = useId();
  const values = facets?.[name].filter(({ value }) => !isHeldWord(value)) ?? [];
  return (
    <label className="text-[13px] text-ink-2">
      {label}
      <input
        name={name}
        defaultValue={was}
        maxLength={LONGEST[name]}
        list={list}
        autoComplete="off"
        className={look}
      />
      <datalist id={list}>
        {values.map(({ value }) => (
          <option key={value} value={value} />
        ))}
      </datalist>
    </label>
  );
}
