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
import { say } from '@/messages';

export function LinesView() {
  const { data } = useQuery(transfersQuery);
  const rows = data?.transfers ?? [];
  const open = rows.filter(({ endedAt }) => endedAt === null).length;
  return (
    <>
      <PageHead
        over={say.transfers.forMachinesThatHave}
        title={
          open > 0
            ? say.transfers.onTheirWayOver({ open })
            : rows.length === 0
              ? say.transfers.nothingWasSentOver
              : say.transfers.ofArrived({
                  rows: rows.filter(({ state }) => state === 'done').length,
                  rows2: rows.length,
                })
        }
      />
      {data && <NewTransferForm key={data.lines.map(({ id }) => id).join()} lines={data.lines} />}
      {rows.length === 0 && <EmptyState>{say.transfers.searchForTheImage}</EmptyState>}
      {rows.map((row) => (
        <TransferPanel key={row.id} row={row} />
      ))}
    </>
  );
}
