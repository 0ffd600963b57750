'use client';
/** The head of an assembly: what it began with, and what is undone, done again and settled. */
import Link from 'next/link';
import type { AssemblyAction } from '@/server/features/assemblies/assemblies';
import { type AssemblyData } from '../data/queries';
import { Button } from '../parts/button';
import { grouped } from '@/core/text/grouped';
import { PageHead } from '../parts/page';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

function headOf({ title, room: { unit, total, free } }: AssemblyData): string {
  return say.assemblies.ofSFree({
    title,
    total: grouped(total - free),
    total2: grouped(total),
    unit,
    free: grouped(free),
  });
}

export function AssemblyHead({
  data,
  act,
}: {
  data: AssemblyData;
  act: { isPending: boolean; mutate: (action: AssemblyAction) => void };
}) {
  return (
    <PageHead over={<HeadOver data={data} />} title={headOf(data)}>
      {data.settledAs ? (
        <Link
          href={docketPage(data.settledAs)}
          className="self-center font-[650] text-verdigris underline"
        >
          {say.assemblies.settledAs} {data.settledAs}
        </Link>
      ) : data.isSettling ? (
        <p aria-live="polite" className="self-center text-ink-2">
          {say.assemblies.isBeingSettled}
        </p>
      ) : (
        <HeadActions data={data} act={act} />
      )}
    </PageHead>
  );
}

function HeadOver({ data }: { data: AssemblyData }) {
  return (
    <>
      {data.filesystem.toUpperCase()}
      {data.label && ` “${data.label}”`}
      {data.layout && ` · ${data.layout}`} ·{' '}
      {data.base ? (
        <>
          {say.assemblies.beganWith2}{' '}
          <Link href={docketPage(data.base)} className="font-mono font-[650] hover:underline">
            {data.base}
          </Link>
        </>
      ) : (
        say.assemblies.beganBlank
      )}
    </>
  );
}

interface HeadActionsProps {
  data: AssemblyData;
  act: { isPending: boolean; mutate: (action: AssemblyAction) => void };
}

function HeadActions({ data, act }: HeadActionsProps): import('react').ReactNode {
  return (
    <>
      <Button
        hotkey="u"
        disabled={data.done.length === 0 || act.isPending}
        onClick={() => act.mutate({ do: 'undo' })}
      >
        {say.assemblies.undo}
      </Button>
      <Button
        hotkey="shift+u"
        disabled={data.undone.length === 0 || act.isPending}
        onClick={() => act.mutate({ do: 'redo' })}
      >
        {say.assemblies.doAgain}
      </Button>
      <Button
        hotkey="k"
        tone="primary"
        disabled={data.done.length === 0 || act.isPending}
        onClick={() => act.mutate({ do: 'settle' })}
      >
        {say.assemblies.settleAsAnImage}
      </Button>
    </>
  );
}
