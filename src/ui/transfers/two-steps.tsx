'use client';
/** An image that no line carries in one go: first a disk that carries it, then the disk made from it over there. */
import { useMutation, UseMutationResult } from '@tanstack/react-query';
import Link from 'next/link';
import { Dispatch, SetStateAction, useState } from 'react';
import { BLANK_KINDS, type BlankKind } from '@/core/identify/blank-kinds';
import { post } from '../data/api';
import { Button } from '../parts/button';
import { grouped } from '@/core/text/grouped';
import { ErrorAlert } from '../parts/page';
import { type FoundImage } from '../writebacks/image-search';
import { say } from '@/messages';
import { BLANK_NAMES } from '@/messages/names';
import { field } from '../parts/field-look';

/** A way of two steps: the image as a file on a disk that the machine does read. */
export function TwoSteps({ image }: { image: FoundImage }) {
  const [kind, setKind] = useState('fat12-1440');
  const plan = useMutation({
    mutationFn: () =>
      post<{ id: number; name: string }>('/api/transfers/plans', { copyId: image.id, kind }),
  });
  const carriers = BLANK_KINDS.filter(({ bytes }) => bytes > image.bytes);
  return (
    <div className="border-t border-line pt-3">
      <p className="mb-1">{say.transfers.orInTwoSteps}</p>
      {carriers.length === 0 ? (
        <p>{say.transfers.noVolumeHereIs}</p>
      ) : (
        <CarrierChoice carriers={carriers} kind={kind} setKind={setKind} plan={plan} />
      )}
      <ErrorAlert>{plan.error?.message}</ErrorAlert>
      {plan.data && <Steps plan={plan.data} image={image} />}
    </div>
  );
}

interface CarrierChoiceProps {
  carriers: BlankKind[];
  kind: string;
  setKind: Dispatch<SetStateAction<string>>;
  plan: UseMutationResult<{ id: number; name: string }, Error, void, unknown>;
}

function CarrierChoice({ carriers, kind, setKind, plan }: CarrierChoiceProps) {
  return (
    <p className="flex items-end gap-2">
      <label className="flex-1">
        {say.transfers.theDiskThatCarries}
        <select
          value={carriers.some(({ id }) => id === kind) ? kind : carriers[0]!.id}
          onChange={(event) => setKind(event.target.value)}
          className={field}
        >
          {carriers.map(({ id }) => (
            <option key={id} value={id}>
              {BLANK_NAMES[id]}
            </option>
          ))}
        </select>
      </label>
      <Button disabled={plan.isPending} onClick={() => plan.mutate()}>
        {say.transfers.planBothSteps}
      </Button>
    </p>
  );
}

function Steps({ plan, image }: { plan: { id: number; name: string }; image: FoundImage }) {
  return (
    <ol data-testid="steps" className="mt-2 list-decimal space-y-1 pl-6 text-ink">
      <li>
        <Link href={`/assembly/${plan.id}`} className="font-[650] text-oxide underline">
          {say.transfers.theDiskThatCarries}
        </Link>{' '}
        {say.transfers.isPutTogetherWith} <b className="font-mono">{plan.name}</b>
        {say.transfers.settleItReturnIt}
      </li>
      <li>
        {say.transfers.onTheFarMachine} <b className="font-mono">{plan.name}</b>{' '}
        {say.transfers.toADiskOf({ bytes: grouped(image.bytes) })}
        {image.layout && ` (${image.layout})`}.
      </li>
      <li>
        {say.transfers.readThatDiskHere}{' '}
        <span className="font-mono">{image.sha256.slice(0, 16)} …</span>
      </li>
    </ol>
  );
}
