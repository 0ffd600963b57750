'use client';
/** A parcel is made of media that were found, or of all of a lot or a set: for whom, with what. */
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { say } from '@/messages';
import { NewParcel } from '@/server/features/parcels/new-parcel';
import { isRefusedFor, post } from '../data/api';
import { Button } from '../parts/button';
import { CheckBox } from '../parts/fields/check-box';
import { Dialog } from '../parts/dialog';
import { FormFoot } from '../parts/form-foot';
import { TextArea } from '../parts/fields/text-area';
import { TextField } from '../parts/fields/text-field';
import { StaysHere } from '../rights/stays-here';

type Fields = z.input<typeof NewParcel>;

interface Chosen {
  of: Fields['of'];
  /** How many media that is. */
  media: number;
  /** How many more were found and stay in the house. */
  stays?: number;
}

interface ParcelFormProps extends Chosen {
  onDone: () => void;
}

function ParcelForm({ of, stays = 0, onDone }: ParcelFormProps) {
  const router = useRouter();
  const {
    register,
    handleSubmit,
    formState: { errors },
  } = useForm<Fields, unknown, z.output<typeof NewParcel>>({
    resolver: zodResolver(NewParcel),
    defaultValues: { title: '', recipient: '', notes: '', of, withFlux: true, withFiles: false },
  });
  const make = useMutation({
    mutationFn: (parcel: z.output<typeof NewParcel>) => post('/api/parcels', parcel),
    onSuccess: () => {
      onDone();
      router.push('/parcels');
    },
  });
  const isQuarantined = isRefusedFor(make.error, 'in-quarantine');
  const send = handleSubmit((parcel) =>
    make.mutate({ ...parcel, acknowledgesQuarantine: isQuarantined }),
  );
  return (
    <form noValidate className="grid grid-cols-2 gap-3" onSubmit={send}>
      <div className="col-span-2">
        <StaysHere stays={stays} />
      </div>
      <TextField
        wide
        label={say.parcels.title}
        input={register('title')}
        error={errors.title?.message}
      />
      <TextField
        wide
        label={say.parcels.recipient}
        input={register('recipient')}
        error={errors.recipient?.message}
      />
      <TextArea
        label={say.parcels.notes}
        input={register('notes')}
        error={errors.notes?.message}
        rows={3}
        className="col-span-2"
      />
      <CheckBox input={register('withFlux')} label={say.parcels.withFlux} />
      <CheckBox input={register('withFiles')} label={say.parcels.withFiles} />
      <FormFoot trouble={make.error?.message} isBusy={make.isPending} onLeave={onDone}>
        {isQuarantined ? say.parcels.makeKnowingly : say.parcels.make}
      </FormFoot>
    </form>
  );
}

export function MakeParcel(chosen: Chosen) {
  const [isOpen, setIsOpen] = useState(false);
  const close = () => setIsOpen(false);
  return (
    <>
      <Button hotkey="p" disabled={chosen.media === 0} onClick={() => setIsOpen(true)}>
        {say.parcels.makeOne}
      </Button>
      <Dialog
        open={isOpen}
        onOpenChange={(stays) => !stays && close()}
        title={`${say.parcels.makeOne} · ${say.parcels.ofMedia(chosen)}`}
        about={say.parcels.about}
      >
        {isOpen && <ParcelForm {...chosen} onDone={close} />}
      </Dialog>
    </>
  );
}
