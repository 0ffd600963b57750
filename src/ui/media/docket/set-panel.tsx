'use client';
/** Which set a medium belongs to, its place there, and what the set lacks. */
import { useMutation, UseMutationResult } from '@tanstack/react-query';
import Link from 'next/link';
import type { FormEvent } from 'react';
import { post } from '@/ui/data/api';
import type { DocketData } from '@/ui/data/queries';
import { ErrorAlert } from '@/ui/parts/page';
import { say } from '@/messages';
import { docketPage } from '../../data/addresses';

const field = 'border border-line bg-sheet px-2 py-1 text-[14px]';

export function SetPanel({ data: { medium, set } }: { data: DocketData }) {
  const store = useMutation({
    mutationFn: async ({
      name,
      number,
      members,
    }: {
      name: string;
      number: number | null;
      members: number | null;
    }) => {
      await post(`/api/media/${encodeURIComponent(medium.code)}`, {
        setName: name,
        setNumber: name ? number : null,
      });
      // Left empty for another set than it was in, it says nothing: that set keeps its number.
      if (name && (members !== null || name === set?.name))
        await post(`/api/sets/${encodeURIComponent(name)}`, { members });
    },
  });
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const number = (name: string) => (form.get(name) ? Number(form.get(name)) : null);
    store.mutate({
      name: String(form.get('name') ?? '').trim(),
      number: number('number'),
      members: number('members'),
    });
  };
  return (
    <div className="mt-3 text-[14px]" data-testid="set">
      {set && <SetMembers medium={medium} set={set} />}
      <SetForm medium={medium} set={set} submit={submit} store={store} />
      <ErrorAlert>{store.error?.message}</ErrorAlert>
    </div>
  );
}

interface SetMembersProps {
  medium: DocketData['medium'];
  set: {
    name: string;
    members: number | null;
    own: { code: string; title: string; number: number | null }[];
    count: number;
    missing: number[];
  };
}

function SetMembers({ medium, set }: SetMembersProps) {
  return (
    <p className="mb-1">
      {medium.setNumber ? say.docket.number({ setNumber: medium.setNumber }) : say.docket.one}{' '}
      {say.docket.of}{' '}
      <Link href={`/sets/${encodeURIComponent(set.name)}`} className="font-[650] hover:underline">
        {set.name}
      </Link>
      {set.members ? say.docket.whichHas({ members: set.members }) : ''}:{' '}
      {set.own.map(({ code, number }, i) => (
        <span key={code}>
          {i > 0 && ', '}
          {code === medium.code ? (
            <b className="font-mono">{code}</b>
          ) : (
            <Link href={docketPage(code)} className="font-mono text-oxide underline">
              {code}
            </Link>
          )}
          {number ? ` (${number})` : ''}
        </span>
      ))}
      .{' '}
      {set.missing.length > 0 ? (
        <b>{say.docket.missing({ missing: set.missing.slice(0, 20).join(', ') })}</b>
      ) : set.members ? (
        say.docket.noneIsMissing
      ) : (
        ''
      )}
    </p>
  );
}

interface SetFormProps {
  medium: DocketData['medium'];
  set: {
    name: string;
    members: number | null;
    own: { code: string; title: string; number: number | null }[];
    count: number;
    missing: number[];
  } | null;
  submit: (event: FormEvent<HTMLFormElement>) => void;
  store: UseMutationResult<
    void,
    Error,
    { name: string; number: number | null; members: number | null },
    unknown
  >;
}

function SetForm({ medium, set, submit, store }: SetFormProps) {
  return (
    <form
      key={`${medium.setName}/${medium.setNumber}/${set?.members}`}
      onSubmit={submit}
      className="flex flex-wrap items-center gap-2 text-[13px] text-ink-2"
    >
      <SetName medium={medium} />
      <label>
        {say.docket.number2}{' '}
        <input
          name="number"
          type="number"
          min={1}
          max={9999}
          defaultValue={medium.setNumber ?? ''}
          className={`${field} w-20 text-ink`}
        />
      </label>
      <label>
        {say.docket.of}{' '}
        <input
          name="members"
          type="number"
          min={1}
          max={9999}
          defaultValue={set?.members ?? ''}
          className={`${field} w-20 text-ink`}
        />
      </label>
      <button
        type="submit"
        disabled={store.isPending}
        className="min-h-8 rounded-sm border border-line bg-sheet px-3 font-[650] text-ink disabled:opacity-45"
      >
        {say.docket.keep}
      </button>
    </form>
  );
}

function SetName({ medium }: { medium: SetFormProps['medium'] }) {
  return (
    <label>
      {say.docket.set}{' '}
      <input
        name="name"
        defaultValue={medium.setName}
        maxLength={200}
        className={`${field} w-64 text-ink`}
      />
    </label>
  );
}
