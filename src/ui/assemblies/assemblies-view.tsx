'use client';
/**
 * Assemblies: volumes that are taking shape, the beginning of another, and blank images to take
 * away.
 */
import { zodResolver } from '@hookform/resolvers/zod';
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import { z } from 'zod';
import { BLANK_KINDS } from '@/core/identify/writable-volume';
import { ApiError, post } from '../data/api';
import { assembliesQuery, layoutsQuery } from '../data/queries';
import { Button } from '../parts/button';
import { Dialog } from '../parts/dialog';
import { EmptyState, PageHead, ErrorAlert, when } from '../parts/page';
import { ImageSearch, type FoundImage } from '../writebacks/image-search';

const field =
  'mt-0.5 block w-full border border-line bg-sheet px-2 py-1.5 text-[15px] ' +
  'text-ink aria-invalid:border-oxide';

const kindTitle = (id: string | null) => BLANK_KINDS.find((kind) => kind.id === id)?.title ?? '';

const Beginning = z.object({
  title: z.string().trim().min(1, 'Say what it is, in a few words.').max(200),
  kind: z.string(),
  label: z.string().max(16),
});
type Beginning = z.output<typeof Beginning>;

type Base = Pick<FoundImage, 'id' | 'code' | 'title'>;

/** An image of the holdings to begin with, found by a few letters of it. */
function BaseChoice({
  chosen,
  onChoose,
}: {
  chosen: Base | null;
  onChoose: (copy: Base | null) => void;
}) {
  if (chosen)
    return (
      <p className="col-span-2 flex items-center gap-3 border border-line bg-sheet px-3 py-2">
        <b className="font-mono">{chosen.code}</b> {chosen.title}
        <button
          type="button"
          onClick={() => onChoose(null)}
          className="ml-auto text-oxide underline"
        >
          A blank volume instead
        </button>
      </p>
    );
  return (
    <div className="col-span-2">
      <ImageSearch label="Or begin with an image that is kept" onChoose={onChoose} />
    </div>
  );
}

function BeginDialog({
  open,
  onOpenChange,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const router = useRouter();
  const [base, setBase] = useState<Base | null>(null);
  const {
    control,
    register,
    handleSubmit,
    setError,
    formState: { errors },
  } = useForm<Beginning>({
    resolver: zodResolver(Beginning),
    defaultValues: { title: '', kind: 'fat12-720', label: '' },
  });
  const begin = useMutation({
    mutationFn: ({ title, kind, label }: Beginning) =>
      post<{ id: number }>(
        '/api/assemblies',
        base ? { title, baseId: base.id } : { title, kind, label },
      ),
    onSuccess: ({ id }) => router.push(`/assembly/${id}`),
    onError: (error) => {
      if (error instanceof ApiError)
        for (const [name, message] of Object.entries(error.fields))
          setError(name as keyof Beginning, { message });
    },
  });
  const kind = useWatch({ control, name: 'kind' });
  const blank = BLANK_KINDS.find(({ id }) => id === kind);
  const said = Object.values(errors)
    .map((error) => error?.message)
    .filter(Boolean);
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Begin an assembly"
      about="What it begins with stays as it is: the volume that takes shape is an image of its own."
    >
      <form
        onSubmit={handleSubmit((values) => begin.mutate(values))}
        noValidate
        className="grid grid-cols-2 gap-3"
      >
        <label className="col-span-2 text-[13px] text-ink-2">
          What it is for
          <input
            {...register('title')}
            autoComplete="off"
            aria-invalid={Boolean(errors.title)}
            className={field}
          />
        </label>
        {!base && (
          <>
            <label className="text-[13px] text-ink-2">
              A blank volume
              <select {...register('kind')} className={field}>
                {BLANK_KINDS.map(({ id, title, layout }) => (
                  <option key={id} value={id}>
                    {title}
                    {layout ? ` · ${layout}` : ''}
                  </option>
                ))}
              </select>
            </label>
            <label className="text-[13px] text-ink-2">
              {blank && blank.mostLabel > 0
                ? `Its label, ${blank.mostLabel} characters at most`
                : 'It has no label'}
              <input
                {...register('label')}
                disabled={blank?.mostLabel === 0}
                maxLength={blank?.mostLabel}
                autoComplete="off"
                aria-invalid={Boolean(errors.label)}
                className={`${field} font-mono disabled:opacity-50`}
              />
            </label>
          </>
        )}
        <BaseChoice chosen={base} onChoose={setBase} />
        <div className="col-span-2 flex items-center justify-end gap-3">
          <ErrorAlert>{said.length > 0 ? said.join(' ') : begin.error?.message}</ErrorAlert>
          <button
            type="button"
            onClick={() => onOpenChange(false)}
            className="min-h-9 rounded-sm border border-line bg-sheet px-3 font-[650]"
          >
            Not now
          </button>
          <button
            type="submit"
            disabled={begin.isPending}
            className={
              'min-h-9 rounded-sm border border-oxide bg-oxide px-3 font-[650] text-oxide-ink ' +
              'disabled:opacity-45'
            }
          >
            Begin
          </button>
        </div>
      </form>
    </Dialog>
  );
}

/** Blank formatted images: one, or as many as there are cards or disks to fill. */
function BlankImages() {
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
          'The application does not answer.',
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
    <section aria-label="Blank images" className="mt-8 border-t border-line pt-4">
      <h2 className="mb-2">Blank formatted images</h2>
      <div className="flex flex-wrap items-end gap-3 text-[13px] text-ink-2">
        <label>
          Kind
          <select
            value={kind}
            onChange={(event) => setKind(event.target.value)}
            className={`${field} w-72`}
          >
            <optgroup label="With a file system">
              {BLANK_KINDS.map(({ id, title }) => (
                <option key={id} value={id}>
                  {title}
                </option>
              ))}
            </optgroup>
            <optgroup label="Formatted only">
              {layouts.map(({ id }) => (
                <option key={id} value={`layout:${id}`}>
                  {id}
                </option>
              ))}
            </optgroup>
          </select>
        </label>
        <label>
          How many
          <input
            value={count}
            onChange={(event) => setCount(event.target.value.replace(/\D/g, '').slice(0, 3))}
            inputMode="numeric"
            className={`${field} w-20 text-right`}
          />
        </label>
        <label>
          {mostLabel > 0 ? 'Label; a number is added where there are several' : 'No label'}
          <input
            value={label}
            disabled={mostLabel === 0}
            maxLength={Math.max(1, mostLabel)}
            onChange={(event) => setLabel(event.target.value)}
            className={`${field} w-72 font-mono disabled:opacity-50`}
          />
        </label>
        <Button disabled={count === '' || Number(count) < 1} onClick={() => void take()}>
          {Number(count) > 1 ? `Make ${count} as one ZIP` : 'Make it'}
        </Button>
      </div>
      <ErrorAlert>{trouble}</ErrorAlert>
    </section>
  );
}

export function AssembliesView() {
  const { data: rows = [] } = useQuery(assembliesQuery);
  const [beginning, setBeginning] = useState(false);
  const open = rows.filter(({ settledAs }) => settledAs === null);
  return (
    <>
      <PageHead
        over="Files gathered on a volume, made for the machine that is to read it"
        title={
          open.length === 0
            ? 'No volume is taking shape'
            : open.length === 1
              ? 'One volume is taking shape'
              : `${open.length} volumes are taking shape`
        }
      >
        <Button hotkey="n" tone="primary" onClick={() => setBeginning(true)}>
          Begin one
        </Button>
      </PageHead>
      {rows.length === 0 && (
        <EmptyState>
          Begin with a blank volume, or with an image that is kept: files come onto it from every
          disk in the holdings and from this computer. Nothing that is kept is changed by it.
        </EmptyState>
      )}
      {rows.length > 0 && (
        <table className="w-full border-collapse">
          <thead>
            <tr className="border-b border-line text-[13px] [&>th]:pb-1.5">
              <th>What it is for</th>
              <th>Began with</th>
              <th className="pr-6 text-right">Changes</th>
              <th>Last changed</th>
              <th>By</th>
              <th>Settled as</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ id, title, kind, base, edits, changedAt, who, settledAs }) => (
              <tr key={id} className="h-9 border-b border-line">
                <td className="pr-4">
                  <Link href={`/assembly/${id}`} className="font-[650] hover:underline">
                    {title}
                  </Link>
                </td>
                <td className="pr-4">
                  {base ? (
                    <Link href={`/media/${base}`} className="font-mono hover:underline">
                      {base}
                    </Link>
                  ) : (
                    kindTitle(kind)
                  )}
                </td>
                <td className="pr-6 text-right">{edits}</td>
                <td className="pr-4 text-ink-2" suppressHydrationWarning>
                  {when(changedAt)}
                </td>
                <td className="pr-4 text-ink-2">{who}</td>
                <td>
                  {settledAs ? (
                    <Link
                      href={`/media/${settledAs}`}
                      className="font-mono font-[650] text-verdigris hover:underline"
                    >
                      {settledAs}
                    </Link>
                  ) : (
                    <span className="text-ink-2">not yet</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <BlankImages />
      <BeginDialog open={beginning} onOpenChange={setBeginning} />
    </>
  );
}
