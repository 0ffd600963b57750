'use client';
/**
 * Two media side by side: what is the same, what differs, and what they are to one another, settled
 * here.
 */
import { useMutation, UseMutationResult, useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { Dispatch, SetStateAction, useState, type ReactNode } from 'react';
import { post } from '../data/api';
import { sideBySideQuery, type SideBySide } from '../data/queries';
import { Button } from '../parts/button';
import { grouped } from '@/core/text/grouped';
import { GradeSwatch } from '../parts/grade';
import { EmptyState, PageHead, ErrorAlert, when } from '../parts/page';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

type Side = SideBySide['first'];
type DuplicateMatch = SideBySide['files'][number]['likeness'];
const WORDS: Record<DuplicateMatch, string> = {
  same: say.holdings.theSame,
  renamed: say.holdings.theSameUnderAnother,
  differs: say.holdings.otherBytes,
  'first-only': say.holdings.onlyHere,
  'second-only': say.holdings.onlyThere,
};

function headline({ first, second, tracks, tally }: SideBySide): string {
  if (first.imageSha256 === second.imageSha256)
    return say.holdings.andHaveTheSame({ code: first.code, code2: second.code });
  const apart = (tally.differs ?? 0) + (tally['first-only'] ?? 0) + (tally['second-only'] ?? 0);
  const shared = (tally.same ?? 0) + (tally.renamed ?? 0);
  return [
    tracks.of > 0 && say.holdings.ofTracksTheSame({ same: tracks.same, of: tracks.of }),
    say.holdings.filesTheSameNot({ shared, apart }),
  ]
    .filter(Boolean)
    .join('; ');
}

const doubtOf = ({ tally }: Side) => (tally ? tally.doubtful + tally.lost + tally.unread : null);

function About({ side }: { side: Side }) {
  const doubt = doubtOf(side);
  const rows: [string, ReactNode][] = [
    [say.holdings.title, side.title],
    [say.holdings.sticker, side.labelText || say.holdings.notNoted],
    [say.holdings.lender, side.lender || say.holdings.notKnown],
    [say.holdings.condition, side.condition || say.holdings.notSaid],
    [say.holdings.layout, side.layout ?? say.holdings.notKnown],
    [say.holdings.surface, doubt === null ? say.holdings.aFlatImage : say.holdings.text({ doubt })],
    [say.holdings.files2, String(side.files)],
    [
      say.holdings.image,
      <span key="i" className="font-mono text-[12px]">
        {side.imageSha256.slice(0, 16)}{' '}
        <span className="text-ink-2">
          {say.holdings.bytes2({ imageBytes: grouped(side.imageBytes) })}
        </span>
      </span>,
    ],
    [
      say.holdings.registered,
      <span key="r" suppressHydrationWarning>
        {when(side.registeredAt)}
        {side.sourceName && say.holdings.from({ sourceName: side.sourceName })}
      </span>,
    ],
  ];
  return (
    <section
      aria-label={side.code}
      className="border border-l-[7px] border-line border-l-oxide bg-sheet px-4 py-3"
    >
      <h2>
        <Link href={docketPage(side.code)} className="font-mono hover:underline">
          {side.code}
        </Link>
      </h2>
      <dl className="mt-1 grid grid-cols-[90px_1fr] gap-x-3 gap-y-0.5 text-[13px]">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-ink-2">{name}</dt>
            <dd className="min-w-0 truncate">{value}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

const cell = (
  file: { path: string; bytes: number; modified: string | null; inDoubt: number } | null,
) =>
  file ? (
    <>
      <td
        className="max-w-0 truncate py-1 pr-3 font-mono"
        style={{ width: '26%' }}
        title={file.path}
      >
        {file.path}
      </td>
      <td className="whitespace-nowrap pr-3 text-right">{grouped(file.bytes)}</td>
      <td className="whitespace-nowrap pr-3 text-ink-2">
        {file.modified?.slice(0, 10) ?? ''}
        {file.inDoubt > 0 && (
          <span className="ml-1 inline-block align-middle">
            <GradeSwatch grade="doubtful" />
          </span>
        )}
      </td>
    </>
  ) : (
    <td colSpan={3} className="text-ink-2">
      –
    </td>
  );

/** What was said of the two, or what may be said. */
function Settle({ data }: { data: SideBySide }) {
  const { first, second, settled } = data;
  const judge = useMutation({
    mutationFn: (body: { of: string; to: string; kind: 'copy-of' | 'not-the-same' | null }) =>
      post('/api/relations', body),
  });
  return (
    <div data-testid="settle" className="my-4">
      {settled ? (
        <Settled settled={settled} judge={judge} first={first} second={second} />
      ) : (
        <SettleChoice judge={judge} first={first} second={second} />
      )}
      <ErrorAlert>{judge.error?.message}</ErrorAlert>
    </div>
  );
}

interface SettledProps {
  settled: NonNullable<SideBySide['settled']>;
  judge: UseMutationResult<
    unknown,
    Error,
    { of: string; to: string; kind: 'copy-of' | 'not-the-same' | null },
    unknown
  >;
  first: SideBySide['first'];
  second: SideBySide['second'];
}

function Settled({ settled, judge, first, second }: SettledProps): ReactNode {
  return (
    <p className="flex items-center gap-4 border-l-4 border-verdigris bg-verdigris-wash px-3 py-2 text-[15px]">
      <b>
        {settled.kind === 'copy-of'
          ? say.holdings.settledIsACopy({ of: settled.of, to: settled.to })
          : say.holdings.settledTheyAreNot}
      </b>
      <button
        type="button"
        disabled={judge.isPending}
        onClick={() => judge.mutate({ of: first.code, to: second.code, kind: null })}
        className="text-[13px] text-oxide underline"
      >
        {say.holdings.takeItBack}
      </button>
    </p>
  );
}

interface SettleChoiceProps {
  judge: UseMutationResult<
    unknown,
    Error,
    { of: string; to: string; kind: 'copy-of' | 'not-the-same' | null },
    unknown
  >;
  first: SideBySide['first'];
  second: SideBySide['second'];
}

function SettleChoice({ judge, first, second }: SettleChoiceProps): ReactNode {
  return (
    <div className="flex flex-wrap gap-2">
      <Button
        hotkey="f"
        disabled={judge.isPending}
        onClick={() => judge.mutate({ of: first.code, to: second.code, kind: 'copy-of' })}
      >
        {say.holdings.isACopyOf({ code: first.code, code2: second.code })}
      </Button>
      <Button
        hotkey="s"
        disabled={judge.isPending}
        onClick={() => judge.mutate({ of: second.code, to: first.code, kind: 'copy-of' })}
      >
        {say.holdings.isACopyOf({ code: second.code, code2: first.code })}
      </Button>
      <Button
        hotkey="n"
        disabled={judge.isPending}
        onClick={() => judge.mutate({ of: first.code, to: second.code, kind: 'not-the-same' })}
      >
        {say.holdings.theyAreNotThe}
      </Button>
    </div>
  );
}

export function SideBySideView({ a, b }: { a: string; b: string }) {
  const { data, error } = useQuery(sideBySideQuery(a, b));
  const [all, setAll] = useState(false);
  if (error)
    return (
      <>
        <PageHead
          over={
            <Link href="/holdings/alike" className="underline">
              {say.holdings.whatIsAlike}
            </Link>
          }
          title={say.holdings.andCantBeLaid({ a, b })}
        />
        <ErrorAlert>{error.message}</ErrorAlert>
      </>
    );
  if (!data) return <PageHead title={say.holdings.layingAndSideBy({ a, b })} />;
  const apart = data.files.filter(({ likeness }) => likeness !== 'same');
  const shown = all ? data.files : apart;
  return (
    <>
      <PageHead
        over={
          <Link href="/holdings/alike" className="underline">
            {say.holdings.whatIsAlike}
          </Link>
        }
        title={headline(data)}
      />
      <div className="grid grid-cols-2 gap-5">
        <About side={data.first} />
        <About side={data.second} />
      </div>
      <Settle data={data} />
      <FilesHead data={data} apart={apart} all={all} setAll={setAll} />
      {shown.length === 0 ? (
        <EmptyState>{say.holdings.everyFileIsThe({ files: data.files.length })}</EmptyState>
      ) : (
        <PairsTable data={data} shown={shown} />
      )}
      {data.more > 0 && (
        <p className="mt-2 text-[13px] text-ink-2">
          {say.holdings.moreAreNotListed({ more: grouped(data.more) })}
        </p>
      )}
    </>
  );
}

interface FilesHeadProps {
  data: SideBySide;
  apart: SideBySide['files'];
  all: boolean;
  setAll: Dispatch<SetStateAction<boolean>>;
}

function FilesHead({ data, apart, all, setAll }: FilesHeadProps) {
  return (
    <div className="mb-2 flex items-baseline gap-4">
      <h2>{say.holdings.files2}</h2>
      {data.files.length > apart.length && (
        <button
          type="button"
          aria-pressed={all}
          onClick={() => setAll(!all)}
          className="text-[13px] text-oxide underline"
        >
          {all
            ? say.holdings.onlyThoseThatDiffer
            : say.holdings.alsoTheThatAre({ files: data.files.length - apart.length })}
        </button>
      )}
      {data.first.layout &&
        data.first.layout === data.second.layout &&
        data.first.imageSha256 !== data.second.imageSha256 && (
          <Link
            href={docketPage(data.first.code, '#surface')}
            className="text-[13px] text-oxide underline"
          >
            {say.holdings.sectorBySectorIn({ code: data.first.code })}
          </Link>
        )}
    </div>
  );
}

function PairsTable({ data, shown }: { data: SideBySide; shown: SideBySide['files'] }) {
  return (
    <table className="w-full border-collapse text-[13px]" data-testid="pairs">
      <thead>
        <tr className="border-b border-line">
          <th>{say.holdings.on({ code: data.first.code })}</th>
          <th className="pr-3 text-right">{say.holdings.bytes3}</th>
          <th>{say.holdings.changed}</th>
          <th className="pl-2">{say.holdings.howItDiffers}</th>
          <th>{say.holdings.on({ code: data.second.code })}</th>
          <th className="pr-3 text-right">{say.holdings.bytes3}</th>
          <th>{say.holdings.changed}</th>
        </tr>
      </thead>
      <tbody>
        {shown.map(({ likeness, first, second }) => (
          <tr key={`${first?.id ?? ''}/${second?.id ?? ''}`} className="border-b border-line">
            {cell(first)}
            <td className="whitespace-nowrap px-2 font-[650]">{WORDS[likeness]}</td>
            {cell(second)}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
