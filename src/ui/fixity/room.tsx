'use client';
/** The room that what is kept takes: in all, by month, by lot; and how long it lasts. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { amount } from '@/core/text/amount';
import { say } from '@/messages';
import { recordPageOf } from '../data/addresses';
import { roomQuery, type Room as RoomState } from '../data/paper-queries';
import { Gauge } from '../parts/gauge';
import { FigureRow } from './figure';

export function Room() {
  const { data } = useQuery(roomQuery);
  if (!data) return null;
  return (
    <section aria-labelledby="room" className="mt-8" data-testid="room">
      <h2 id="room" className="mb-2 text-[20px]">
        {say.room.title}
      </h2>
      <RoomFigures room={data} />
      <div className="grid grid-cols-2 gap-8">
        <Bars
          head={say.room.byMonth}
          rows={data.months.map(({ month, bytes }) => ({ name: month, bytes }))}
        />
        <Bars
          head={say.room.byLot}
          rows={data.lots.map(({ lot, bytes }) => ({
            ...{ name: lot || say.room.noLot, bytes },
            href: lot ? recordPageOf('lots', lot) : null,
          }))}
        />
      </div>
      {data.moreLots > 0 && (
        <p className="mt-2 text-[13px] text-ink-2">
          {say.room.moreLots({ moreLots: data.moreLots })}
        </p>
      )}
    </section>
  );
}

function RoomFigures({ room: { bytes, free, reserve, aMonth, monthsLeft } }: { room: RoomState }) {
  const rows = [
    [say.room.kept, amount(bytes)],
    [say.room.free, free === null ? say.room.notKnown : amount(free)],
    [say.room.keptFree, amount(reserve)],
    [say.room.grows, say.room.aMonth({ bytes: amount(aMonth) })],
    [say.room.lasts, monthsLeft === null ? say.room.notKnown : say.room.months({ monthsLeft })],
  ] as const;
  return <FigureRow rows={rows} />;
}

interface BarsProps {
  head: string;
  rows: readonly { name: string; bytes: number; href?: string | null }[];
}

function Bars({ head, rows }: BarsProps) {
  if (rows.length === 0) return null;
  const most = Math.max(1, ...rows.map(({ bytes }) => bytes));
  return (
    <table className="w-full self-start border-collapse text-[13px]">
      <thead>
        <tr className="border-b border-line">
          <th className="pb-1.5" colSpan={3}>
            {head}
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ name, bytes, href = null }) => (
          <tr key={name} className="h-8 border-b border-line">
            <td className="max-w-[220px] truncate pr-4">
              {href ? (
                <Link href={href} className="hover:underline">
                  {name}
                </Link>
              ) : (
                name
              )}
            </td>
            <td className="w-40">
              <Gauge done={bytes} of={most} label={name} className="w-36" />
            </td>
            <td className="whitespace-nowrap text-right">{amount(bytes)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
