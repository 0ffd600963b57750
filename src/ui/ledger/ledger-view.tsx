'use client';
/** The ledger: every event, who, when, with what. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { Dispatch, SetStateAction, useState } from 'react';
import { ledgerQuery, type Serialized } from '../data/queries';
import { EmptyState, PageHead, when } from '../parts/page';
import type { LedgerLine } from '@/server/features/ledger/ledger';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

export function LedgerView() {
  const { data: rows = [] } = useQuery(ledgerQuery);
  const [filter, setFilter] = useState('');
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = rows.filter(({ what, who, code }) =>
    words.every((word) => `${what} ${who} ${code ?? ''}`.toLowerCase().includes(word)),
  );
  return (
    <>
      <PageHead
        over={say.ledger.newestFirst}
        title={
          words.length > 0
            ? say.ledger.ofTheLastEntries({ shown: shown.length, rows: rows.length })
            : say.ledger.theLastEntries({ rows: rows.length })
        }
      >
        <LedgerFilter filter={filter} setFilter={setFilter} />
        <Link href="/fixity" className="self-center text-[13px] font-[650] text-oxide underline">
          {say.ledger.checksOfWhatIsKept}
        </Link>
        <a
          href="/api/ledger/export"
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          {say.ledger.allOfItAs}
        </a>
        <a
          href="/api/ledger/export?as=json"
          className="self-center text-[13px] font-[650] text-oxide underline"
        >
          {say.ledger.asJson}
        </a>
      </PageHead>
      {shown.length === 0 ? (
        <EmptyState>{say.ledger.noEntryAnswersTo}</EmptyState>
      ) : (
        <LedgerTable shown={shown} />
      )}
    </>
  );
}

function LedgerFilter({
  filter,
  setFilter,
}: {
  filter: string;
  setFilter: Dispatch<SetStateAction<string>>;
}) {
  return (
    <label>
      <span className="sr-only">{say.ledger.filter}</span>
      <input
        value={filter}
        onChange={(event) => setFilter(event.target.value)}
        placeholder={say.ledger.filterByCodeName}
        className="w-72 border border-line bg-sheet px-3 py-1.5 text-[14px]"
      />
    </label>
  );
}

function LedgerTable({ shown }: { shown: readonly Serialized<LedgerLine>[] }) {
  return (
    <table className="w-full border-collapse text-[13px]">
      <thead>
        <tr className="border-b border-line [&>th]:pb-1.5">
          <th>{say.ledger.when}</th>
          <th>{say.ledger.who}</th>
          <th>{say.ledger.medium}</th>
          <th>{say.ledger.station}</th>
          <th>{say.ledger.what}</th>
        </tr>
      </thead>
      <tbody>
        {shown.map((row) => (
          <tr key={row.id} className="border-b border-line align-top [&>td]:py-1.5">
            <td className="w-32 pr-4 text-ink-2">
              <time dateTime={row.at} suppressHydrationWarning>
                {when(row.at)}
              </time>
            </td>
            <td className="w-32 pr-4">{row.who}</td>
            <td className="w-24 pr-4">
              {row.code && (
                <Link href={docketPage(row.code)} className="font-mono font-[650] hover:underline">
                  {row.code}
                </Link>
              )}
            </td>
            <td className="w-16 pr-4">{row.stationId ?? ''}</td>
            <td>{row.what}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
