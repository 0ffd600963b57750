import { route, rowId } from '@/server/http/respond';
import { giveUpTransfer } from '@/server/services/transfers';

export const DELETE = route<{ id: string }>(async ({ db, params, operator }) => {
  await operator();
  await giveUpTransfer(db, rowId(params.id));
});
