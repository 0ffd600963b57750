'use client';
/** The ledger: every event, who, when, with what; narrowed over all of it, and saved as files. */
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useDeferredValue, useState } from 'react';
import type { LedgerLine } from '@/server/features/ledger/entries';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';
import { inAddress, ledgerQuery, type LedgerAsked, type Serialized } from '../data/queries';
import { Button } from '../parts/button';
import { EmptyState, PageHead, when } from '../parts/page';
import { LedgerFilters } from './ledger-filters';

export function LedgerView({ asked: first = {} }: { asked?: LedgerAsked }) {
  const [wanted, setWanted] = useState(first);
  const asked = useDeferredValue(wanted);
  const { data } = useQuery({ ...ledgerQuery(asked), placeholderData: keepPreviousData });
  const { entries = [], count = 0, isCounted = true, olderThan = null, names = [] } = data ?? {};
  // What is asked anew begins with the newest.
  const ask = (change: LedgerAsked) =>
    setWanted(({ before: _, ...before }) => ({ ...before, ...change }));
  const { medium = '' } = asked;
  return (
    <>
      <PageHead
        over={medium ? say.ledger.ofMedium({ code: medium }) : say.ledger.newestFirst}
        title={say.ledger.entries({ count, isCounted })}
      >
        <Exports asked={asked} />
        <Link href="/fixity" className="self-center text-[13px] font-[650] text-oxide underline">
          {say.ledger.checksOfWhatIsKept}
        </Link>
      </PageHead>
      <LedgerFilters asked={wanted} names={names} onAsk={ask} onClear={() => setWanted({})} />
      {data && entries.length === 0 ? (
        <EmptyState>{say.ledger.noEntryAnswersTo}</EmptyState>
      ) : (
        <LedgerTable shown={entries} />
      )}
      <Turning
        isFirst={asked.before === undefined}
        olderThan={olderThan}
        onTurn={(before) => setWanted({ ...wanted, before })}
      />
    </>
  );
}

const EXPORTS = ['csv', 'json', 'premis', 'prov'] as const;

/** All that is meant, and not only what is listed. */
function Exports({ asked: { before: _, ...asked } }: { asked: LedgerAsked }) {
  return (
    <p className="self-center text-[13px] text-ink-2">
      {say.ledger.saveThese}{' '}
      {EXPORTS.map((as, i) => (
        <span key={as}>
          {i > 0 && ' · '}
          <a
            href={`/api/ledger/export?${inAddress({ ...asked, as })}`}
            className="font-[650] text-oxide underline"
          >
            {say.ledger.exports[as]}
          </a>
        </span>
      ))}
    </p>
  );
}

interface TurningProps {
  isFirst: boolean;
  olderThan: number | null;
  onTurn: (before: number | undefined) => void;
}

function Turning({ isFirst, olderThan, onTurn }: TurningProps) {
  return (
    <div className="my-4 flex gap-3">
      {!isFirst && <Button onClick={() => onTurn(undefined)}>{say.ledger.newest}</Button>}
      {olderThan !== null && <Button onClick={() => onTurn(olderThan)}>{say.ledger.older}</Button>}
    </div>
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
