'use client';
/** Large files that are on their way in, or broke off and wait to go on. */
import { useMutation, UseMutationResult, useQuery } from '@tanstack/react-query';
import { remove } from '../../data/api';
import { uploadsQuery } from '../../data/queries';
import { amount } from '@/core/text/amount';
import { ErrorAlert } from '../../parts/page';
import { say } from '@/messages';

/** What is smaller is taken in before anybody has read its line. */
const SMALL = 24 << 20;

/** A small file that has come is taken in before anyone has read its line. */
const isShown = ({ state, size }: { state: string; size: number }): boolean =>
  state === 'coming' || (size > SMALL && (state === 'waiting' || state === 'taking-in'));

export function UploadRows() {
  const { data: rows = [] } = useQuery(uploadsQuery);
  const giveUp = useMutation({ mutationFn: (id: string) => remove(`/api/uploads/${id}`) });
  const open = rows.filter(isShown);
  if (open.length === 0) return null;
  return (
    <>
      <ul
        data-testid="uploads"
        aria-label={say.holdings.filesOnTheirWay}
        aria-live="polite"
        className="mb-4 text-[13px]"
      >
        {open.map(({ id, name, size, state, now }) => (
          <UploadRow
            key={id}
            name={name}
            size={size}
            state={state}
            now={now}
            giveUp={giveUp}
            id={id}
          />
        ))}
      </ul>
      <ErrorAlert>{giveUp.error?.message}</ErrorAlert>
    </>
  );
}

interface UploadRowProps {
  name: string;
  size: number;
  state: string;
  now: string;
  giveUp: UseMutationResult<unknown, Error, string, unknown>;
  id: string;
}

function UploadRow({ name, size, state, now, giveUp, id }: UploadRowProps) {
  return (
    <li className="flex items-center gap-4 border-b border-line py-1.5">
      <b className="min-w-0 truncate">{name}</b>
      <span className="text-ink-2">{amount(size)}</span>
      <span className="flex-1">{state === 'coming' ? say.holdings.onItsWayIf : now}</span>
      {state === 'coming' && (
        <button
          type="button"
          disabled={giveUp.isPending}
          onClick={() => giveUp.mutate(id)}
          className="font-[650] text-oxide underline"
        >
          {say.holdings.giveItUp}
        </button>
      )}
    </li>
  );
}
