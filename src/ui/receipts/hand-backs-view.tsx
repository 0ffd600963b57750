'use client';
/** What is to be handed back and by when, what was sent out, and the receipts that were given. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { daysBetween } from '@/core/description/day';
import { say } from '@/messages';
import { recordPageOf } from '../data/addresses';
import { handBacksQuery, type HandBacks } from '../data/paper-queries';
import { EmptyState, PageHead } from '../parts/page';
import { TableWithHeads } from '../records/table-with-heads';
import { MakeReceipt } from './make-receipt';

export function HandBacksView() {
  const { data } = useQuery(handBacksQuery);
  if (!data) return <h1>{say.receipts.handBacks}</h1>;
  const { today, due, out, receipts } = data;
  const overdue = due.filter(({ by }) => by < today).length;
  const mediaOut = out.reduce((sum, each) => sum + each.out, 0);
  return (
    <div className="max-w-[1100px] pb-6">
      <PageHead
        over={
          <Link href="/lots" className="underline">
            {say.descriptions.allLotsAndSets}
          </Link>
        }
        title={say.receipts.howMany({ due: due.length, overdue, out: mediaOut })}
      />
      <p className="mb-5 max-w-[80ch] text-[14px] text-ink-2">{say.receipts.about}</p>
      <Due due={due} today={today} />
      {out.length > 0 && <SentOut out={out} today={today} />}
      <Given receipts={receipts} />
    </div>
  );
}

const DUE_HEADS = [
  ...[say.receipts.by, say.receipts.lot, say.receipts.lender],
  ...[say.receipts.here, say.receipts.unread, ''],
];
const OUT_HEADS = [
  ...[say.receipts.by, say.receipts.person, say.receipts.what, say.receipts.number, ''],
];
const GIVEN_HEADS = [
  ...[say.receipts.number, say.receipts.day, say.receipts.what],
  ...[say.receipts.person, say.receipts.lender, say.receipts.writtenBy],
];

const ROW = 'border-b border-line [&>td]:py-2 [&>td]:pr-4';

/** A day by which something should be, and how far that is. */
function DayCell({ day, today }: { day: string; today: string }) {
  if (day === '') return <td className="text-ink-2">{say.receipts.noDay}</td>;
  const days = daysBetween(today, day);
  return (
    <td className="whitespace-nowrap">
      {day}{' '}
      <span className={days < 0 ? 'font-[650] text-oxide' : 'text-[13px] text-ink-2'}>
        {days < 0 ? say.receipts.overdue({ days: -days }) : say.receipts.inDays({ days })}
      </span>
    </td>
  );
}

function Due({ due, today }: Pick<HandBacks, 'due' | 'today'>) {
  if (due.length === 0)
    return (
      <section className="mb-7">
        <h2 className="mb-2 text-[20px]">{say.receipts.due}</h2>
        <EmptyState>{say.receipts.nothingDue}</EmptyState>
      </section>
    );
  return (
    <TableWithHeads title={say.receipts.due} heads={DUE_HEADS} testId="due">
      {due.map((row) => (
        <tr key={row.lot} className={ROW}>
          <DayCell day={row.by} today={today} />
          <td>
            <Link href={recordPageOf('lots', row.lot)} className="font-[650] hover:underline">
              {row.lot}
            </Link>
          </td>
          <td>{row.lender}</td>
          <td>{say.receipts.hereOf(row)}</td>
          <td>{row.unread}</td>
          <td className="text-right">
            <MakeReceipt
              name={row.lot}
              of={{ lot: row.lot }}
              kinds={['handed-back', 'sent-out']}
              unread={row.unread}
              label={say.receipts.handBack}
            />
          </td>
        </tr>
      ))}
    </TableWithHeads>
  );
}

function SentOut({ out, today }: Pick<HandBacks, 'out' | 'today'>) {
  return (
    <TableWithHeads title={say.receipts.out} heads={OUT_HEADS} testId="sent-out">
      {out.map((row) => (
        <tr key={row.id} className={ROW}>
          <DayCell day={row.backBy} today={today} />
          <td>{row.person}</td>
          <td>{say.receipts.ofMedia({ count: row.media, out: row.out })}</td>
          <td>
            <ReceiptLink id={row.id} />
          </td>
          <td className="text-right">
            <MakeReceipt
              name={row.person}
              of={{ receipt: row.id }}
              kinds={['came-back']}
              label={say.receipts.cameBack}
            />
          </td>
        </tr>
      ))}
    </TableWithHeads>
  );
}

const ReceiptLink = ({ id }: { id: number }) => (
  <a href={`/api/receipts/${id}`} className="text-oxide underline">
    {id}
  </a>
);

function Given({ receipts }: Pick<HandBacks, 'receipts'>) {
  if (receipts.length === 0)
    return (
      <section>
        <h2 className="mb-2 text-[20px]">{say.receipts.given}</h2>
        <EmptyState>{say.receipts.noneGiven}</EmptyState>
      </section>
    );
  return (
    <TableWithHeads title={say.receipts.given} heads={GIVEN_HEADS} testId="receipts">
      {receipts.map((row) => (
        <tr key={row.id} className={ROW}>
          <td>
            <ReceiptLink id={row.id} />
          </td>
          <td className="whitespace-nowrap">{row.day}</td>
          <td>
            {say.receipts.kinds[row.kind]}:{' '}
            {say.receipts.ofMedia({ count: row.media, out: row.kind === 'sent-out' ? row.out : 0 })}
          </td>
          <td>{row.person}</td>
          <td>{row.lenders}</td>
          <td>{row.who}</td>
        </tr>
      ))}
    </TableWithHeads>
  );
}
