'use client';
/** Layouts: those that ship and those added here; taken in from JSON, handed out as JSON. */
import { FORM_NAMES } from '@/messages/names';
import { useMutation, UseMutationResult, useQuery } from '@tanstack/react-query';
import { useRef, useState, type DragEvent } from 'react';
import { ApiError, post, remove } from '../data/api';
import { layoutsQuery } from '../data/queries';
import { Button } from '../parts/button';
import { grouped } from '@/core/text/grouped';
import { JsonPicker } from '../parts/json-picker';
import { PageHead, ErrorAlert } from '../parts/page';
import type { LayoutView } from '@/server/features/layouts/layouts';
import { say } from '@/messages';

async function add(file: File): Promise<{ id: string }> {
  let json: unknown;
  try {
    json = JSON.parse(await file.text());
  } catch {
    throw new ApiError(say.layouts.isNoJsonNothing({ name: file.name }), 0);
  }
  return post<{ id: string }>('/api/layouts', json);
}

export function LayoutsView() {
  const { data: layouts = [] } = useQuery(layoutsQuery);
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const take = useMutation({ mutationFn: add });
  const drop = useMutation({
    mutationFn: (id: string) => remove(`/api/layouts/${encodeURIComponent(id)}`),
  });
  const own = layouts.filter(({ ships }) => !ships).length;
  const dropped = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const [file] = event.dataTransfer.files;
    if (file) take.mutate(file);
  };
  return (
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={dropped}
      className={`min-h-full ${over ? 'outline-2 -outline-offset-4 outline-dashed outline-oxide' : ''}`}
    >
      <PageHead
        over={say.layouts.howSectorsLieOn}
        title={say.layouts.layoutsShipAddedHere({ layouts: layouts.length - own, own })}
      >
        <Button hotkey="t" onClick={() => picker.current?.click()}>
          {say.layouts.addALayoutFrom}
        </Button>
      </PageHead>
      <JsonPicker picker={picker} testId="layout-file" onFile={(file) => take.mutate(file)} />
      <ErrorAlert>{take.error?.message ?? drop.error?.message}</ErrorAlert>
      {take.data && (
        <p className="mb-3 border-l-4 border-verdigris bg-verdigris-wash px-3 py-1.5 text-[13px]">
          <b>{take.data.id}</b> {say.layouts.addedCapturesAreHeld}
        </p>
      )}
      <table className="w-full border-collapse">
        <LayoutsHead />
        <tbody>
          {layouts.map((layout) => (
            <LayoutRow key={layout.id} layout={layout} drop={drop} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface LayoutRowProps {
  layout: LayoutView;
  drop: UseMutationResult<unknown, Error, string, unknown>;
}

function LayoutsHead() {
  return (
    <thead>
      <tr className="border-b border-line text-[13px] [&>th]:pb-1.5">
        <th>{say.layouts.layout}</th>
        <th>{say.layouts.disk}</th>
        <th>{say.layouts.whatLiesOnIt}</th>
        <th className="pr-4 text-right">{say.layouts.sectors}</th>
        <th className="pr-4 text-right">{say.layouts.bytes}</th>
        <th>{say.layouts.images}</th>
        <th />
      </tr>
    </thead>
  );
}

function LayoutRow({ layout, drop }: LayoutRowProps) {
  return (
    <tr className="h-9 border-b border-line">
      <td className="pr-4 font-mono font-[650]">{layout.id}</td>
      <td className="whitespace-nowrap pr-4">
        {layout.forms.map((form) => FORM_NAMES[form]).join(', ')}
      </td>
      <LayoutWhat layout={layout} />
      <td className="pr-4 text-right">{grouped(layout.sectors)}</td>
      <td className="pr-4 text-right">{grouped(layout.bytes)}</td>
      <td className="pr-4 font-mono text-[12px]">
        {layout.kinds.map((kind) => `.${kind}`).join(' ')}
      </td>
      <td className="whitespace-nowrap text-right text-[13px] font-[650]">
        {!layout.ships && (
          <button
            type="button"
            disabled={drop.isPending}
            onClick={() => drop.mutate(layout.id)}
            className="mr-4 text-oxide hover:underline"
          >
            {say.layouts.remove}
          </button>
        )}
        <a
          href={`/api/layouts/${encodeURIComponent(layout.id)}`}
          className="text-oxide hover:underline"
        >
          {say.layouts.exportWord}
        </a>
      </td>
    </tr>
  );
}

function LayoutWhat({ layout }: { layout: LayoutRowProps['layout'] }) {
  return (
    <td className="pr-4 text-[13px] text-ink-2">
      {layout.title ? (
        <>
          <span className="text-ink">{layout.title}</span> ·{' '}
        </>
      ) : null}
      {layout.describes.replace(/^.*?inch, /, '')}
    </td>
  );
}
