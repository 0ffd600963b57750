'use client';
/**
 * Transfers over a serial line to a machine that has no other way in; and ways of two steps,
 * through a larger disk.
 */
import { useQuery } from '@tanstack/react-query';
import { transfersQuery } from '../data/queries';
import { EmptyState, PageHead } from '../parts/page';
import { NewTransferForm } from './new-transfer-form';
import { TransferPanel } from './transfer-panel';

export function LinesView() {
  const { data } = useQuery(transfersQuery);
  const rows = data?.transfers ?? [];
  const open = rows.filter(({ endedAt }) => endedAt === null).length;
  return (
    <>
      <PageHead
        over="For machines that have no other way in"
        title={
          open > 0
            ? `${open} on ${open === 1 ? 'its' : 'their'} way over a line`
            : rows.length === 0
              ? 'Nothing was sent over a line yet'
              : `${rows.filter(({ state }) => state === 'done').length} of ${rows.length} arrived`
        }
      />
      {data && <NewTransferForm key={data.lines.map(({ id }) => id).join()} lines={data.lines} />}
      {rows.length === 0 && (
        <EmptyState>
          Search for the image above. It goes block by block, each acknowledged by the far machine;
          where that has no receiving program, one of yours is typed in first, at the pace that it
          can take.
        </EmptyState>
      )}
      {rows.map((row) => (
        <TransferPanel key={row.id} row={row} />
      ))}
    </>
  );
}
