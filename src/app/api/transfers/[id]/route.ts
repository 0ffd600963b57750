import { rowId } from '@/server/platform/http/respond';
import { route } from '@/server/features/operators/route';
import { giveUpTransfer } from '@/server/features/transfers/transfers';

export const DELETE = route<{ id: string }>(async ({ db, params, operator }) => {
  await operator();
  await giveUpTransfer(db, rowId(params.id));
});
