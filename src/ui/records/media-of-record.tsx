/** The media of a lot or of a set. */
import Link from 'next/link';
import { FORM_NAMES } from '@/messages/names';
import { say } from '@/messages';
import type { RecordPage } from '../data/queries';
import { EmptyState } from '../parts/page';
import { docketPage } from '../data/addresses';

type Media = RecordPage['media'];

export function MediaOfRecord({ all, rows, isSet }: Media & { isSet: boolean }) {
  if (rows.length === 0)
    return <EmptyState>{say.descriptions.ofMedia({ all, read: 0 })}</EmptyState>;
  return (
    <>
      <table className="w-full border-collapse text-[14px]">
        <thead>
          <tr className="border-b border-line text-[13px] [&>th]:pb-1.5">
            <th>{say.descriptions.code}</th>
            {isSet && <th>{say.descriptions.place}</th>}
            <th>{say.descriptions.title}</th>
            <th>{say.media.medium}</th>
            <th>{say.descriptions.state}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <Row key={row.code} row={row} isSet={isSet} />
          ))}
        </tbody>
      </table>
      {all > rows.length && (
        <p className="mt-2 text-[13px] text-ink-2">
          {say.descriptions.theFirst({ shown: rows.length, all })}
        </p>
      )}
    </>
  );
}

function Row({ row, isSet }: { row: Media['rows'][number]; isSet: boolean }) {
  return (
    <tr className="h-9 border-b border-line">
      <td className="whitespace-nowrap pr-4">
        <Link
          href={docketPage(row.code)}
          className="font-mono font-[650] tracking-wide hover:underline"
        >
          {row.code}
        </Link>
      </td>
      {isSet && <td className="pr-4">{row.setNumber}</td>}
      <td className="pr-4">{row.title}</td>
      <td className="whitespace-nowrap pr-4">{FORM_NAMES[row.form]}</td>
      <td className="pr-4 text-ink-2">
        {row.isRead ? say.descriptions.isRead : say.descriptions.isNotRead}
        {row.out && `, ${say.receipts.kinds[row.out].toLowerCase()}`}
      </td>
    </tr>
  );
}
