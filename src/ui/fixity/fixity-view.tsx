'use client';
/** Whether what is kept is still what was kept: when it was looked at, what is damaged. */
import { useMutation, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { grouped } from '@/core/text/grouped';
import { say } from '@/messages';
import { post } from '../data/api';
import { fixityQuery, type FixityState } from '../data/queries';
import { EmptyState, ErrorAlert, PageHead, when } from '../parts/page';
import { docketPage } from '../data/addresses';
import { Figure } from './figure';
import { Room } from './room';
import { SecondStore } from './second-store';

export function FixityView() {
  const { data } = useQuery(fixityQuery);
  const check = useMutation({ mutationFn: () => post('/api/fixity', {}) });
  if (!data) return null;
  return (
    <>
      <PageHead over={say.fixity.whatIsKept} title={titleOf(data)}>
        <button
          type="button"
          disabled={check.isPending || data.blobs === 0}
          onClick={() => check.mutate()}
          className="border border-line bg-sheet px-3 py-1.5 text-[14px] font-[650] disabled:opacity-60"
        >
          {check.isPending ? say.fixity.asking : say.fixity.checkAll}
        </button>
      </PageHead>
      <ErrorAlert>{check.error?.message}</ErrorAlert>
      <p className="mb-5 max-w-[75ch] text-[15px]">{say.fixity.every({ days: data.everyDays })}</p>
      <Figures state={data} />
      {data.ledger && <Seals ledger={data.ledger} />}
      {data.damaged.length > 0 && <Damaged state={data} />}
      {data.damaged.length === 0 && data.blobs > 0 && (
        <EmptyState>{say.fixity.nothingDamaged}</EmptyState>
      )}
      <SecondStore second={data.second} />
      <Room />
    </>
  );
}

function titleOf({ blobs, damaged }: FixityState): string {
  if (blobs === 0) return say.fixity.nothingKept;
  return damaged.length > 0
    ? say.fixity.someDamaged({ damaged: damaged.length, blobs })
    : say.fixity.allSound({ blobs });
}

const ledgerOf = ({ ledger }: FixityState): string => {
  if (!ledger) return say.fixity.ledgerNotYet;
  return ledger.broken
    ? say.fixity.ledgerIsBroken(ledger.broken)
    : say.fixity.ledgerIsWhole(ledger);
};

function Seals({ ledger: { at, digest, broken } }: { ledger: NonNullable<FixityState['ledger']> }) {
  return (
    <p
      data-testid="seals"
      data-broken={broken !== null}
      suppressHydrationWarning
      className="mb-5 max-w-[75ch] text-[14px] wrap-anywhere text-ink-2"
    >
      {say.fixity.whatTheSealsAre({ digest, at: at && when(at) })}
    </p>
  );
}

function Figures({ state }: { state: FixityState }) {
  const { bytes, oldest, never, due, ledger } = state;
  const rows = [
    [say.fixity.size, say.fixity.held({ bytes })],
    [say.fixity.oldest, oldest ? when(oldest) : say.fixity.none],
    [say.fixity.never, never > 0 ? grouped(never) : say.fixity.none],
    [say.fixity.due, due > 0 ? grouped(due) : say.fixity.none],
    [say.fixity.ledger, ledgerOf(state)],
  ] as const;
  return (
    <dl data-testid="fixity" className="mb-6 grid grid-cols-5 gap-4 border-y border-line py-3">
      {rows.map(([name, figure]) => (
        <Figure
          key={name}
          name={name}
          figure={figure}
          isWrong={name === say.fixity.ledger && Boolean(ledger?.broken)}
        />
      ))}
    </dl>
  );
}

function Damaged({ state: { damaged } }: { state: FixityState }) {
  return (
    <>
      <table className="w-full border-collapse text-[14px]">
        <thead>
          <tr className="border-b border-line text-left [&>th]:pb-1.5">
            <th>{say.fixity.what}</th>
            <th>{say.fixity.from}</th>
            <th>{say.fixity.files}</th>
            <th>{say.fixity.since}</th>
          </tr>
        </thead>
        <tbody>
          {damaged.map(({ id, what, code, offset, files, damagedAt }) => (
            <tr key={id} className="border-b border-line [&>td]:py-1.5 [&>td]:pr-4">
              <td className="border-l-4 border-oxide first-letter:uppercase [&&]:pl-3">
                {code ? (
                  <Link href={docketPage(code)} className="hover:underline">
                    {what}
                  </Link>
                ) : (
                  what
                )}
              </td>
              <td>{grouped(offset)}</td>
              <td>{files === null ? '' : grouped(files)}</td>
              <td suppressHydrationWarning>{damagedAt && when(damagedAt)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-3 max-w-[70ch] text-[14px] text-ink-2">{say.fixity.whatToDo}</p>
    </>
  );
}
