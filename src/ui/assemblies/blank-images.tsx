'use client';
/** Blank formatted images, one or many with numbered labels. */
import { useQuery } from '@tanstack/react-query';
import { Dispatch, SetStateAction, useState } from 'react';
import { BLANK_KINDS } from '@/core/identify/blank-kinds';
import { layoutsQuery } from '../data/queries';
import { Button } from '../parts/button';
import { ErrorAlert } from '../parts/page';
import { field } from '../parts/field-look';
import { say } from '@/messages';
import { BLANK_NAMES } from '@/messages/names';

/** Blank formatted images: one, or as many as there are cards or disks to fill. */
export function BlankImages() {
  const [kind, setKind] = useState('fat12-720');
  const [count, setCount] = useState('1');
  const [label, setLabel] = useState('');
  const [trouble, setTrouble] = useState<string | null>(null);
  const { data: layouts = [] } = useQuery(layoutsQuery);
  // A bare format has no label.
  const mostLabel = BLANK_KINDS.find(({ id }) => id === kind)?.mostLabel ?? 0;
  const href = `/api/blanks?${new URLSearchParams({ kind, count, ...(label && mostLabel > 0 && { label }) })}`;
  // The sentence of a refusal belongs here, not in a page of its own.
  const take = async () => {
    const response = await fetch(href).catch(() => null);
    if (!response?.ok)
      return setTrouble(
        ((await response?.json().catch(() => null)) as { error?: string } | null)?.error ??
          say.assemblies.theApplicationDoesNot,
      );
    setTrouble(null);
    const name =
      /filename="([^"]*)"/.exec(response.headers.get('content-disposition') ?? '')?.[1] ??
      'blank.img';
    const url = URL.createObjectURL(await response.blob());
    Object.assign(document.createElement('a'), { href: url, download: name }).click();
    URL.revokeObjectURL(url);
  };
  return (
    <section aria-label={say.assemblies.blankImages} className="mt-8 border-t border-line pt-4">
      <h2 className="mb-2">{say.assemblies.blankFormattedImages}</h2>
      <BlankForm
        kind={kind}
        setKind={setKind}
        layouts={layouts}
        count={count}
        setCount={setCount}
        mostLabel={mostLabel}
        label={label}
        setLabel={setLabel}
        take={take}
      />
      <ErrorAlert>{trouble}</ErrorAlert>
    </section>
  );
}

interface BlankFormProps {
  kind: string;
  setKind: Dispatch<SetStateAction<string>>;
  layouts: readonly { id: string }[];
  count: string;
  setCount: Dispatch<SetStateAction<string>>;
  mostLabel: number;
  label: string;
  setLabel: Dispatch<SetStateAction<string>>;
  take: () => Promise<void>;
}

function BlankForm({
  kind,
  setKind,
  layouts,
  count,
  setCount,
  mostLabel,
  label,
  setLabel,
  take,
}: BlankFormProps) {
  return (
    <div className="flex flex-wrap items-end gap-3 text-[13px] text-ink-2">
      <KindChoice kind={kind} setKind={setKind} layouts={layouts} />
      <CountField count={count} setCount={setCount} />
      <LabelField mostLabel={mostLabel} label={label} setLabel={setLabel} />
      <Button disabled={count === '' || Number(count) < 1} onClick={() => void take()}>
        {say.assemblies.make({ count: Number(count), count2: count })}
      </Button>
    </div>
  );
}

interface KindChoiceProps {
  kind: string;
  setKind: Dispatch<SetStateAction<string>>;
  layouts: readonly { id: string }[];
}

function KindChoice({ kind, setKind, layouts }: KindChoiceProps) {
  return (
    <label>
      {say.assemblies.kind}
      <select
        value={kind}
        onChange={(event) => setKind(event.target.value)}
        className={`${field} w-72`}
      >
        <optgroup label={say.assemblies.withAFileSystem}>
          {BLANK_KINDS.map(({ id }) => (
            <option key={id} value={id}>
              {BLANK_NAMES[id]}
            </option>
          ))}
        </optgroup>
        <optgroup label={say.assemblies.formattedOnly}>
          {layouts.map(({ id }) => (
            <option key={id} value={`layout:${id}`}>
              {id}
            </option>
          ))}
        </optgroup>
      </select>
    </label>
  );
}

function CountField({
  count,
  setCount,
}: {
  count: string;
  setCount: Dispatch<SetStateAction<string>>;
}) {
  return (
    <label>
      {say.assemblies.howMany}
      <input
        value={count}
        onChange={(event) => setCount(event.target.value.replace(/\D/g, '').slice(0, 3))}
        inputMode="numeric"
        className={`${field} w-20 text-right`}
      />
    </label>
  );
}

function LabelField({
  mostLabel,
  label,
  setLabel,
}: {
  mostLabel: number;
  label: string;
  setLabel: Dispatch<SetStateAction<string>>;
}) {
  return (
    <label>
      {say.assemblies.noLabel({ mostLabel })}
      <input
        value={label}
        disabled={mostLabel === 0}
        maxLength={Math.max(1, mostLabel)}
        onChange={(event) => setLabel(event.target.value)}
        className={`${field} w-72 font-mono disabled:opacity-50`}
      />
    </label>
  );
}
