'use client';
/** That a medium stays in the house, and why; and to whom it is handed out all the same. */
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState, type MouseEvent, type ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { say } from '@/messages';
import { NewPermit } from '@/server/features/rights/new-rights';
import { post } from '../data/api';
import { permitQuery, type DocketData } from '../data/queries';
import { Button } from '../parts/button';
import { Dialog } from '../parts/dialog';
import { FormFoot } from '../parts/form-foot';
import { TextField } from '../parts/fields/text-field';
import { holdWords } from './rights-panel';

type Fields = z.input<typeof NewPermit>;

interface PermitFormProps {
  code: string;
  onDone: () => void;
  /** What goes on once it is permitted. */
  onPermitted: () => void;
}

function PermitForm({ code, onDone, onPermitted }: PermitFormProps) {
  const {
    register,
    handleSubmit,
    formState: { errors },
  } = useForm<Fields>({
    resolver: zodResolver(NewPermit),
    defaultValues: { recipient: '', reason: '' },
  });
  const send = useMutation({
    mutationFn: (fields: Fields) => post(`/api/permits/${encodeURIComponent(code)}`, fields),
    onSuccess: () => {
      onDone();
      onPermitted();
    },
  });
  return (
    <form
      noValidate
      className="grid grid-cols-2 gap-3"
      onSubmit={handleSubmit((fields) => send.mutate(fields))}
    >
      <TextField
        label={say.rights.toWhom}
        input={register('recipient')}
        error={errors.recipient?.message}
      />
      <TextField label={say.rights.why} input={register('reason')} error={errors.reason?.message} />
      <FormFoot trouble={send.error?.message} isBusy={send.isPending} onLeave={onDone}>
        {say.rights.permitIt}
      </FormFoot>
    </form>
  );
}

/** Links of these give bytes of a medium. */
const LEAVING = ['copies', 'files', 'captures']
  .map((what) => `a[href^="/api/${what}/"]`)
  .join(', ');

interface HeldProps {
  medium: Pick<DocketData['medium'], 'code' | 'title'>;
  holds: DocketData['holds'];
  /** Stands over it. */
  head: ReactNode;
  children: ReactNode;
}

/**
 * The page of a medium: where it is held that is said over it, and whoever presses what would let
 * its bytes leave is asked to whom and why first.
 */
export function Held({ medium, holds, head, children }: HeldProps) {
  const { code, title } = medium;
  const isHeld = holds.length > 0;
  const { data } = useQuery({ ...permitQuery(code), enabled: isHeld });
  const recipient = data?.recipient ?? null;
  // What was pressed: null where the dialog is closed, empty where nothing waits for it.
  const [asked, setAsked] = useState<string | null>(null);
  const ask = (event: MouseEvent) => {
    const link = (event.target as Element).closest<HTMLAnchorElement>(LEAVING);
    if (!link || !isHeld || recipient !== null) return;
    event.preventDefault();
    setAsked(link.href);
  };
  return (
    <div className="min-w-0 pb-6" onClickCapture={ask}>
      {head}
      {isHeld && <HeldBox {...{ holds, recipient }} onHandOut={() => setAsked('')} />}
      {children}
      <Dialog
        open={asked !== null}
        onOpenChange={(isOpen) => !isOpen && setAsked(null)}
        title={`${code} · ${say.rights.handOutAllTheSame}`}
        about={say.rights.aboutPermit({ title, holds: holds.map(holdWords) })}
      >
        {asked !== null && (
          <PermitForm
            code={code}
            onDone={() => setAsked(null)}
            onPermitted={() => asked && window.location.assign(asked)}
          />
        )}
      </Dialog>
    </div>
  );
}

interface HeldBoxProps {
  holds: HeldProps['holds'];
  recipient: string | null;
  onHandOut: () => void;
}

function HeldBox({ holds, recipient, onHandOut }: HeldBoxProps) {
  return (
    <div
      data-testid="held"
      className="mb-5 flex items-baseline gap-4 border-l-[7px] border-ochre bg-sheet px-4 py-3"
    >
      <div className="flex-1">
        <p className="text-[15px] font-[650]">{say.rights.staysHere}</p>
        {holds.map((hold) => (
          <p key={`${hold.from} ${hold.name} ${hold.isPersonal}`} className="text-[14px]">
            <span className="inline-block first-letter:uppercase">{holdWords(hold)}</span>{' '}
            {hold.from !== 'medium' && (
              <span className="text-ink-2">({say.rights.heldBy[hold.from](hold)})</span>
            )}
          </p>
        ))}
        {recipient !== null && (
          <p className="text-[13px] text-ink-2">{say.rights.mayLeaveTo({ recipient })}</p>
        )}
      </div>
      {recipient === null && <Button onClick={onHandOut}>{say.rights.handOutAllTheSame}</Button>}
    </div>
  );
}
