'use client';
/** Returns: images written to blanks, and their proofs. */
import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { returnsQuery } from '../data/queries';
import { Nothing, PageHead } from '../parts/page';
import { ReturnCard } from './return-card';

export function ReturnsView() {
  const { data: rows = [] } = useQuery(returnsQuery);
  const open = rows.filter(({ endedAt }) => !endedAt).length;
  const proved = rows.filter(({ state }) => state === 'proved').length;
  return (
    <>
      <PageHead over="An original is never a target" title={rows.length === 0 ? 'No image has been returned to a disk yet' : `${open > 0 ? `${open} under way, ` : ''}${proved} of ${rows.length} returns proved`} />
      {rows.length === 0
        ? <Nothing>Put a blank in a station, open the docket of an image in <Link className="font-[650] text-oxide underline" href="/holdings">Holdings</Link>, and choose to return it there.</Nothing>
        : <div className="space-y-3 pb-4">{rows.map((row) => <ReturnCard key={row.id} row={row} />)}</div>}
    </>
  );
}
