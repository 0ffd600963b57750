'use client';
/**
 * What is still to be completed, across everything kept and waiting: so that descriptions are not
 * put off and
 * forgotten.
 */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { FORM_NAMES } from '@/core/medium-form';
import { toCompleteQuery } from '../data/queries';
import { Button } from '../parts/button';
import { EmptyState, PageHead } from '../parts/page';

const KINDS = ['what it is', 'owner', 'label', 'condition', 'photo', 'side'] as const;

export function ToCompleteView() {
  const { data } = useQuery(toCompleteQuery);
  const [only, setOnly] = useState<string | null>(null);
  if (!data) return <PageHead title="Looking what is to be completed …" />;
  const shown = data.media.filter(({ toComplete }) => only === null || toComplete.includes(only));
  const count = (kind: string) =>
    data.media.filter(({ toComplete }) => toComplete.includes(kind)).length;
  return (
    <>
      <PageHead
        over={
          <>
            <Link href="/arrivals" className="underline">
              Arrivals
            </Link>{' '}
            · kept and waiting, {data.of} media
          </>
        }
        title={
          data.media.length === 0
            ? 'Nothing is to be completed'
            : `${data.media.length} of ${data.of} media lack something`
        }
      />
      <div className="mb-4 flex flex-wrap gap-2">
        {KINDS.filter((kind) => count(kind) > 0).map((kind) => (
          <Button
            key={kind}
            tone={only === kind ? 'primary' : 'plain'}
            onClick={() => setOnly(only === kind ? null : kind)}
          >
            {kind}: {count(kind)}
          </Button>
        ))}
      </div>
      {data.sets.length > 0 && (
        <section className="mb-5">
          <h2 className="mb-1">Sets with missing members</h2>
          <ul className="text-[14px]">
            {data.sets.map(({ name, members, own, missing }) => (
              <li key={name} className="border-b border-line py-1">
                <b>{name}</b>: {own.length}
                {members ? ` of ${members}` : ''}; missing {missing.slice(0, 12).join(', ')}
                {missing.length > 12 ? ` and ${missing.length - 12} more` : ''}.{' '}
                {own[0] && (
                  <Link
                    href={`/media/${own[0].code}#condition`}
                    className="font-mono text-oxide underline"
                  >
                    {own[0].code}
                  </Link>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      {shown.length === 0 ? (
        <EmptyState>Every medium has an owner, a label, a condition and a picture.</EmptyState>
      ) : (
        <table className="w-full border-collapse text-[14px]">
          <thead>
            <tr className="border-b border-line text-[13px]">
              <th>Code</th>
              <th>What it is</th>
              <th>Medium</th>
              <th>Lot</th>
              <th>To complete</th>
              <th>Where</th>
            </tr>
          </thead>
          <tbody>
            {shown.map(({ code, title, form, lot, toComplete, held }) => (
              <tr key={code} className="h-9 border-b border-line">
                <td className="pr-4">
                  <Link href={`/media/${code}`} className="font-mono font-[650] hover:underline">
                    {code}
                  </Link>
                </td>
                <td className="pr-4">{title}</td>
                <td className="pr-4">{FORM_NAMES[form]}</td>
                <td className="pr-4 text-ink-2">{lot}</td>
                <td className="pr-4">{toComplete.join(', ')}</td>
                <td className="text-ink-2">{held ? 'kept' : 'waiting'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
