'use client';
/**
 * Assemblies: volumes that are taking shape, the beginning of another, and blank images to take
 * away.
 */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { BLANK_KINDS } from '@/core/identify/writable-volume';
import { assembliesQuery } from '../data/queries';
import { Button } from '../parts/button';
import { EmptyState, PageHead, when } from '../parts/page';
import { BlankImages } from './blank-images';
import { BeginDialog } from './begin-dialog';

const kindTitle = (id: string | null) => BLANK_KINDS.find((kind) => kind.id === id)?.title ?? '';

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
