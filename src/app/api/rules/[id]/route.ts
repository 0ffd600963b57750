import { route } from '@/server/http/respond';
import { removeRule } from '@/server/services/signatures';

export const DELETE = route<{ id: string }>(async ({ db, params, operator }) =>
  removeRule(db, await operator(), params.id),
);
