'use client';
/** On a docket: where the medium is, and the receipts that it stands on. */
import { Fragment } from 'react';
import { say } from '@/messages';
import type { ReceiptKind } from '@/server/states';
import type { DocketData } from '../data/queries';
import { MakeReceipt } from './make-receipt';

const OF_WHAT_IS_HERE: readonly ReceiptKind[] = ['handed-back', 'sent-out', 'arrived'];
const OF_WHAT_IS_OUT: readonly ReceiptKind[] = ['came-back'];

function place({ medium, station, whereabouts: { out } }: DocketData): string {
  if (out?.kind === 'handed-back') return say.receipts.isHandedBack(out);
  if (out) return say.receipts.isSentOut(out);
  if (station !== null) return say.receipts.atStation({ station });
  const { shelf } = medium;
  return shelf ? say.receipts.onShelf({ shelf }) : say.receipts.shelfNotNoted;
}

export function WhereItIs({ data }: { data: DocketData }) {
  const { medium, copy, whereabouts } = data;
  const { out, receipts } = whereabouts;
  return (
    <div className="mt-2 flex items-start justify-between gap-4 text-[13px]">
      <p data-testid="whereabouts">
        <span className={out ? 'font-[650]' : ''}>{place(data)}</span>
        {receipts.map(({ id, kind, day }) => (
          <Fragment key={id}>
            {' · '}
            <a href={`/api/receipts/${id}`} className="text-oxide underline">
              {say.receipts.receiptOf({ id, kind: say.receipts.kinds[kind].toLowerCase(), day })}
            </a>
          </Fragment>
        ))}
      </p>
      <MakeReceipt
        name={medium.code}
        of={{ codes: [medium.code] }}
        kinds={out ? OF_WHAT_IS_OUT : OF_WHAT_IS_HERE}
        unread={copy ? 0 : 1}
        label={out ? say.receipts.cameBack : say.receipts.makeOne}
      />
    </div>
  );
}
