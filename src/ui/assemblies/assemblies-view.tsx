'use client';
/**
 * Assemblies: volumes that are taking shape, the beginning of another, and blank images to take
 * away.
 */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useState } from 'react';
import { blankName } from '@/messages/names';
import { assembliesQuery } from '../data/queries';
import { Button } from '../parts/button';
import { EmptyState, PageHead, when } from '../parts/page';
import { BlankImages } from './blank-images';
import { BeginDialog } from './begin-dialog';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

export function AssembliesView() {
  const { data: rows = [] } = useQuery(assembliesQuery);
  const [beginning, setBeginning] = useState(false);
  const open = rows.filter(({ settledAs }) => settledAs === null);
  return (
    <>
      <PageHead
        over={say.assemblies.filesGatheredOnA}
        title={say.assemblies.text({ open: open.length })}
      >
        <Button hotkey="n" tone="primary" onClick={() => setBeginning(true)}>
          {say.assemblies.beginOne}
        </Button>
      </PageHead>
      {rows.length === 0 && <EmptyState>{say.assemblies.beginWithABlank}</EmptyState>}
      {rows.length > 0 && <Assemblies rows={rows} />}
      <BlankImages />
      <BeginDialog open={beginning} onOpenChange={setBeginning} />
    </>
  );
}

interface AssembliesProps {
  rows: {
    id: number;
    title: string;
    kind: string | null;
    edits: number;
    changedAt: string;
    who: string;
    base: string | null;
    settledAs: string | null;
  }[];
}

function Assemblies({ rows }: AssembliesProps) {
  return (
    <table className="w-full border-collapse">
      <AssembliesHead />
      <tbody>
        {rows.map(({ id, title, kind, base, edits, changedAt, who, settledAs }) => (
          <AssemblyRow
            key={id}
            id={id}
            title={title}
            base={base}
            kind={kind}
            edits={edits}
            changedAt={changedAt}
            who={who}
            settledAs={settledAs}
          />
        ))}
      </tbody>
    </table>
  );
}

function AssembliesHead() {
  return (
    <thead>
      <tr className="border-b border-line text-[13px] [&>th]:pb-1.5">
        <th>{say.assemblies.whatItIsFor}</th>
        <th>{say.assemblies.beganWith}</th>
        <th className="pr-6 text-right">{say.assemblies.changes}</th>
        <th>{say.assemblies.lastChanged}</th>
        <th>{say.assemblies.by}</th>
        <th>{say.assemblies.settledAs}</th>
      </tr>
    </thead>
  );
}

interface AssemblyRowProps {
  id: number;
  title: string;
  base: string | null;
  kind: string | null;
  edits: number;
  changedAt: string;
  who: string;
  settledAs: string | null;
}

function AssemblyRow({
  id,
  title,
  base,
  kind,
  edits,
  changedAt,
  who,
  settledAs,
}: AssemblyRowProps) {
  return (
    <tr className="h-9 border-b border-line">
      <td className="pr-4">
        <Link href={`/assembly/${id}`} className="font-[650] hover:underline">
          {title}
        </Link>
      </td>
      <td className="pr-4">
        {base ? (
          <Link href={docketPage(base)} className="font-mono hover:underline">
            {base}
          </Link>
        ) : (
          blankName(kind)
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
            href={docketPage(settledAs)}
            className="font-mono font-[650] text-verdigris hover:underline"
          >
            {settledAs}
          </Link>
        ) : (
          <span className="text-ink-2">{say.assemblies.notYet}</span>
        )}
      </td>
    </tr>
  );
}
