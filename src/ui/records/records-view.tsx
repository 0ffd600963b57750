'use client';
/** Lots and sets: whose they are, when they must go back, and how far their media are read. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useDeferredValue, useRef, useState } from 'react';
import { say } from '@/messages';
import { recordPageOf } from '../data/addresses';
import { recordsQuery, type Records } from '../data/queries';
import { Gauge } from '../parts/gauge';
import { useKey } from '../parts/keys';
import { EmptyState, PageHead } from '../parts/page';
import { TableWithHeads } from './table-with-heads';

export function RecordsView() {
  const [q, setQ] = useState('');
  const search = useRef<HTMLInputElement>(null);
  const asked = useDeferredValue(q);
  const { data } = useQuery({ ...recordsQuery(asked), placeholderData: keepPreviousData });
  useKey('/', () => search.current?.focus());
  const { lots = [], sets = [], lenders = [], machines = [], isAll = true } = data ?? {};
  const found = lots.length + sets.length + lenders.length + machines.length;
  return (
    <div className="max-w-[1100px] pb-6">
      <Head
        title={say.descriptions.howMany({
          lots: lots.length,
          sets: sets.length,
          lenders: lenders.length,
          machines: machines.length,
        })}
      />
      <input
        ref={search}
        type="search"
        value={q}
        onChange={({ target }) => setQ(target.value)}
        aria-label={say.descriptions.wordsOfRecords}
        placeholder={say.descriptions.wordsOfRecords}
        className="mb-5 w-full border border-line bg-sheet px-3 py-2 text-[16px]"
      />
      {data && found === 0 && <EmptyState>{say.descriptions.noLotNoSet}</EmptyState>}
      {lots.length > 0 && <Lots lots={lots} />}
      <ShortTable
        kind="sets"
        title={say.descriptions.sets}
        heads={[say.media.set, say.descriptions.membersHead]}
        rows={sets.map(({ members, ...row }) => ({
          ...row,
          about: members ?? say.descriptions.notKnown,
        }))}
      />
      <ShortTable
        kind="lenders"
        title={say.named.lenders}
        heads={[say.named.lender, say.named.contactHead]}
        rows={lenders.map(({ contact, ...row }) => ({ ...row, about: contact }))}
      />
      <ShortTable
        kind="machines"
        title={say.named.machines}
        heads={[say.named.machine, say.named.kindHead]}
        rows={machines.map(({ kind, ...row }) => ({ ...row, about: kind }))}
      />
      {!isAll && <p className="text-[13px] text-ink-2">{say.descriptions.notAllListed}</p>}
    </div>
  );
}

const Head = ({ title }: { title: string }) => (
  <PageHead
    over={
      <Link href="/arrivals" className="underline">
        {say.media.arrivals}
      </Link>
    }
    title={title}
  >
    <Link href="/hand-backs" className="self-center text-[13px] font-[650] text-oxide underline">
      {say.receipts.handBacks}
    </Link>
  </PageHead>
);

function Lots({ lots }: Pick<Records, 'lots'>) {
  const heads = [
    say.media.lot,
    say.media.lender,
    say.descriptions.cameInHead,
    say.descriptions.backByHead,
    say.descriptions.readHead,
  ];
  return (
    <TableWithHeads title={say.descriptions.lots} heads={heads}>
      {lots.map(({ name, lender, cameIn, handBackBy, ...counts }) => (
        <tr key={name} className="h-9 border-b border-line">
          <NameCell href={recordPageOf('lots', name)} name={name} />
          <td className="pr-4">{lender}</td>
          <td className="whitespace-nowrap pr-4">{cameIn}</td>
          <td className="whitespace-nowrap pr-4">{handBackBy}</td>
          <ReadCell {...counts} />
        </tr>
      ))}
    </TableWithHeads>
  );
}

interface ShortRow {
  name: string;
  /** What is told of it beside its name. */
  about: string | number;
  all: number;
  read: number;
}

interface ShortTableProps {
  kind: 'sets' | 'lenders' | 'machines';
  title: string;
  heads: [name: string, about: string];
  rows: readonly ShortRow[];
}

/** Records of which one thing is told, and how far their media are read. */
function ShortTable({ kind, title, heads, rows }: ShortTableProps) {
  if (rows.length === 0) return null;
  return (
    <TableWithHeads title={title} heads={[...heads, say.descriptions.readHead]}>
      {rows.map(({ name, about, ...counts }) => (
        <tr key={name} className="h-9 border-b border-line">
          <NameCell href={recordPageOf(kind, name)} name={name} />
          <td className="max-w-[360px] truncate pr-4">{about}</td>
          <ReadCell {...counts} />
        </tr>
      ))}
    </TableWithHeads>
  );
}

function NameCell({ href, name }: { href: string; name: string }) {
  return (
    <td className="pr-4">
      <Link href={href} className="font-[650] hover:underline">
        {name}
      </Link>
    </td>
  );
}

function ReadCell({ all, read }: { all: number; read: number }) {
  return (
    <td className="w-[260px]">
      <Gauge done={read} of={all} label={say.descriptions.readHead} className="w-28" />{' '}
      <span className="text-[13px] text-ink-2">{say.descriptions.readOf({ read, all })}</span>
    </td>
  );
}
