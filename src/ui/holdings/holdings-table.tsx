'use client';
/** Media that are kept, a row each. */
import Link from 'next/link';
import type { Holdings } from '../data/queries';
import { grouped } from '@/core/text/grouped';
import { GradeSwatch } from '../parts/grade';
import { say } from '@/messages';
import { docketPage } from '../data/addresses';

type Held = Holdings['copies'][number];

function doubtsOf({ tally }: Held): number {
  return tally ? tally.doubtful + tally.lost + tally.unread : 0;
}

function volumesLine({ volumes }: Held): string {
  if (volumes.length === 0) return say.holdings.noneFound;
  return volumes
    .map(({ filesystem, label }) => `${filesystem.toUpperCase()}${label ? ` “${label}”` : ''}`)
    .join(', ');
}

function Doubt({ count }: { count: number }) {
  if (count === 0) return '–';
  return (
    <span className="flex items-center gap-1.5">
      <GradeSwatch grade="doubtful" />
      {grouped(count)}
    </span>
  );
}

function Row({ held }: { held: Held }) {
  return (
    <tr className="h-9 border-b border-line">
      <td className="whitespace-nowrap pr-4">
        <Link
          href={docketPage(held.code)}
          className="font-mono font-[650] tracking-wide hover:underline"
        >
          {held.code}
        </Link>
      </td>
      <TitleCell held={held} />
      <td className="pr-4 text-ink-2">{held.lender || say.holdings.notKnown}</td>
      <td className="pr-4">{volumesLine(held)}</td>
      <td className="pr-4 text-right">{grouped(held.fileCount)}</td>
      <td className="whitespace-nowrap pr-4">
        <Doubt count={doubtsOf(held)} />
      </td>
      <td className="pr-4 font-mono text-[12px] text-ink-2" title={held.sha256}>
        {held.sha256.slice(0, 12)}
      </td>
      <SameAsCell held={held} />
    </tr>
  );
}

function TitleCell({ held }: { held: Held }) {
  return (
    <td className="pr-4">
      {held.title}
      {held.copyOf && (
        <span className="ml-2 text-[12px] text-ink-2">
          {say.holdings.copyOf}{' '}
          <Link href={docketPage(held.copyOf)} className="font-mono hover:underline">
            {held.copyOf}
          </Link>
        </span>
      )}
      {held.findings > 0 && (
        <b className="ml-2 border border-oxide px-1 text-[12px] text-oxide">
          {say.holdings.inQuarantine2}
        </b>
      )}
      {held.isHeld && (
        <span className="ml-2 inline-block border border-ochre px-1 text-[12px] text-ochre">
          {say.rights.isRestricted}
        </span>
      )}
    </td>
  );
}

function SameAsCell({ held }: { held: Held }) {
  return (
    <td className="font-mono text-[12px]">
      {held.sameAs.map((code) => (
        <Link
          key={code}
          href={docketPage(code)}
          className="mr-2 font-[650] text-oxide hover:underline"
        >
          {code}
        </Link>
      ))}
    </td>
  );
}

export function HoldingsTable({ copies }: Pick<Holdings, 'copies'>) {
  return (
    <table className="w-full border-collapse text-[14px]">
      <thead>
        <tr className="border-b border-line text-[13px] [&>th]:pb-1.5">
          <th>{say.holdings.code}</th>
          <th>{say.holdings.whatItIs}</th>
          <th>{say.holdings.lender}</th>
          <th>{say.holdings.volume}</th>
          <th className="pr-4 text-right">{say.holdings.files2}</th>
          <th className="whitespace-nowrap pr-4">{say.holdings.inDoubt}</th>
          <th>{say.holdings.sha256}</th>
          <th>{say.holdings.alsoHeldAs}</th>
        </tr>
      </thead>
      <tbody>
        {copies.map((held) => (
          <Row key={held.id} held={held} />
        ))}
      </tbody>
    </table>
  );
}
